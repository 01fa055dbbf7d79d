// What the Compare station asks.
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, ask, type Schemas } from "../api/client";
import { keys } from "../app/changes";

export interface Asked {
  /** Left out: what the plan judges. */
  estimate?: "joint" | "glueline";
  within_boards?: boolean;
  against_control: boolean;
  /** What of each break is compared. */
  response?: Schemas["Response"];
}

const params = (id: number, asked: Asked) => ({ params: { path: { trial_id: id }, query: asked } });

export const useCompare = (id: number, asked: Asked) =>
  useQuery({
    queryKey: [...keys.part(id, "compare"), asked],
    placeholderData: keepPreviousData,
    queryFn: () =>
      ask(api.GET("/api/trials/{trial_id}/compare", params(id, asked))) as Promise<Schemas["CompareView"]>,
  });

export interface Wishes {
  line: string;
  weights: string;
  /** What shares of the strength are of; empty for the usual. */
  base: string;
}

export const useFindings = (id: number, asked: Asked, wishes: Wishes) =>
  useQuery({
    queryKey: [...keys.part(id, "findings"), asked, wishes],
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: () =>
      ask(
        api.GET("/api/trials/{trial_id}/findings", {
          params: { path: { trial_id: id }, query: { ...asked, ...wishes } },
        }),
      ) as Promise<Schemas["FindingsView"]>,
  });

export const conclude = (id: number, was: string, text: string) =>
  ask(
    api.PUT("/api/trials/{trial_id}/conclusion", { params: { path: { trial_id: id } }, body: { was, text } }),
  );

export const useCommand = (id: number, asked: Asked) =>
  useQuery({
    queryKey: [...keys.part(id, "command"), asked],
    queryFn: () => ask(api.GET("/api/trials/{trial_id}/breaks-command", params(id, asked))),
  });

/** Where a file of a trial is had: breaks, workbook, report, picture. */
export function fileAddress(id: number, asked: Asked, name: string): string {
  const query = new URLSearchParams({ against_control: String(asked.against_control) });
  if (asked.estimate) query.set("estimate", asked.estimate);
  if (asked.response) query.set("response", asked.response);
  if (asked.within_boards !== undefined) query.set("within_boards", String(asked.within_boards));
  return `/api/trials/${id}/${name}?${query}`;
}

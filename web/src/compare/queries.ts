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
  /** The words of a slice; empty for all pieces together. */
  slice?: string;
  /** What numbers are read in; left out for the shop's. */
  unit?: string;
}

const params = (id: number, asked: Asked) => ({ params: { path: { trial_id: id }, query: asked } });

export const useSlices = (id: number, asked: Asked) =>
  useQuery({
    queryKey: [...keys.part(id, "slices"), asked],
    placeholderData: keepPreviousData,
    queryFn: () =>
      ask(api.GET("/api/trials/{trial_id}/slices", params(id, asked))) as Promise<Schemas["SlicesView"]>,
  });

export const useCompare = (id: number, asked: Asked, enabled = true) =>
  useQuery({
    queryKey: [...keys.part(id, "compare"), asked],
    placeholderData: keepPreviousData,
    enabled,
    queryFn: () =>
      ask(api.GET("/api/trials/{trial_id}/compare", params(id, asked))) as Promise<Schemas["CompareView"]>,
  });

export const useCurves = (id: number, asked: Asked, enabled: boolean) =>
  useQuery({
    queryKey: [...keys.part(id, "curves"), { ...asked, slice: "" }],
    placeholderData: keepPreviousData,
    enabled,
    queryFn: () =>
      ask(api.GET("/api/trials/{trial_id}/curves", params(id, { ...asked, slice: "" }))) as Promise<
        Schemas["CurveChart"][]
      >,
  });

/** What goes across the slices: asked when the slice stands. */
export const useAcross = (id: number, asked: Asked, enabled: boolean) =>
  useQuery({
    queryKey: [...keys.part(id, "across"), { ...asked, slice: "", unit: "" }],
    placeholderData: keepPreviousData,
    enabled,
    queryFn: () => ask(api.GET("/api/trials/{trial_id}/across", params(id, asked))),
  });

/** Guess and conclusion held against the numbers: asked when the slice stands. */
export const useChecks = (id: number, asked: Asked, enabled: boolean) =>
  useQuery({
    queryKey: [...keys.part(id, "checks"), asked],
    placeholderData: keepPreviousData,
    enabled,
    queryFn: () =>
      ask(api.GET("/api/trials/{trial_id}/checks", params(id, asked))) as Promise<Schemas["ChecksView"]>,
  });

export const useShares = (id: number, asked: Asked, of: string, enabled: boolean) =>
  useQuery({
    queryKey: [...keys.part(id, "shares"), asked, of],
    placeholderData: keepPreviousData,
    enabled,
    queryFn: () =>
      ask(
        api.GET("/api/trials/{trial_id}/shares", {
          params: { path: { trial_id: id }, query: { ...asked, of } },
        }),
      ),
  });

export const usePair = (id: number, asked: Asked, a: string, b: string) =>
  useQuery({
    queryKey: [...keys.part(id, "pair"), asked, a, b],
    enabled: a !== "" && b !== "" && a !== b,
    retry: false,
    queryFn: () =>
      ask(
        api.GET("/api/trials/{trial_id}/pair", {
          params: { path: { trial_id: id }, query: { ...asked, a, b } },
        }),
      ) as Promise<Schemas["PairWords"]>,
  });

export const useSpoken = (id: number, asked: Asked, enabled: boolean) =>
  useQuery({
    queryKey: [...keys.part(id, "spoken"), asked],
    enabled,
    queryFn: () => ask(api.GET("/api/trials/{trial_id}/spoken", params(id, asked))),
  });

export interface Wishes {
  line: string;
  weights: string;
  /** What shares of the strength are of; empty for the usual. */
  base: string;
}

export const useFindings = (id: number, asked: Asked, wishes: Wishes, enabled: boolean) =>
  useQuery({
    queryKey: [...keys.part(id, "findings"), asked, wishes],
    placeholderData: keepPreviousData,
    retry: false,
    enabled,
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
  if (asked.slice) query.set("slice", asked.slice);
  if (asked.unit) query.set("unit", asked.unit);
  return `/api/trials/${id}/${name}?${query}`;
}

// What the Saw station asks and says.
import { useQuery } from "@tanstack/react-query";
import { api, ask } from "../api/client";

const path = (id: number) => ({ params: { path: { trial_id: id } } });

export const markSawn = (id: number, pieces: number[], sawn: boolean) =>
  ask(api.POST("/api/trials/{trial_id}/pieces/saw", { ...path(id), body: { pieces, sawn } }));

export const markPrepared = (id: number, pieces: number[], done: boolean) =>
  ask(api.POST("/api/trials/{trial_id}/pieces/prepare", { ...path(id), body: { pieces, done } }));

export const relabel = (id: number, pieceId: number, was: string, now: string) =>
  ask(
    api.PATCH("/api/trials/{trial_id}/pieces/{piece_id}/label", {
      params: { path: { trial_id: id, piece_id: pieceId } },
      body: { was, now },
    }),
  );

export const useLabelSheets = (id: number) =>
  useQuery({
    queryKey: ["label-sheets"],
    queryFn: () => ask(api.GET("/api/trials/{trial_id}/label-sheets", path(id))),
    staleTime: Number.POSITIVE_INFINITY,
  });

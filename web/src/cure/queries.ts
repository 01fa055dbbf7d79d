// What the Cure station asks and says.
import { useQuery } from "@tanstack/react-query";
import { api, ask, type Schemas } from "../api/client";
import { keys } from "../app/changes";

const path = (id: number) => ({ params: { path: { trial_id: id } } });

export const useCuring = (id: number) =>
  useQuery({
    queryKey: keys.part(id, "curing"),
    queryFn: () => ask(api.GET("/api/trials/{trial_id}/curing", path(id))),
    refetchInterval: 60_000,
  });

export const putIn = (
  id: number,
  pieces: number[],
  kind: Schemas["ExposureKind"],
  planned: string,
  note: string,
) =>
  ask(
    api.POST("/api/trials/{trial_id}/pieces/put-in", { ...path(id), body: { pieces, kind, planned, note } }),
  );

export const takeOut = (id: number, pieces: number[]) =>
  ask(api.POST("/api/trials/{trial_id}/pieces/take-out", { ...path(id), body: { pieces } }));

export const countCycle = (id: number, pieces: number[]) =>
  ask(api.POST("/api/trials/{trial_id}/pieces/count-cycle", { ...path(id), body: { pieces } }));

export const noteExposure = (id: number, exposureId: number, was: string, now: string) =>
  ask(
    api.PATCH("/api/trials/{trial_id}/exposures/{exposure_id}/note", {
      params: { path: { trial_id: id, exposure_id: exposureId } },
      body: { was, now },
    }),
  );

export const setTestedAs = (id: number, pieces: number[], state: Schemas["TestedAs"]) =>
  ask(api.POST("/api/trials/{trial_id}/pieces/tested-as", { ...path(id), body: { pieces, state } }));

export const tickCheck = (id: number, pieces: number[], words: string, done: boolean) =>
  ask(api.POST("/api/trials/{trial_id}/pieces/check", { ...path(id), body: { pieces, words, done } }));

export const readOff = (id: number, pieceId: number, field: string, was: string, now: string) =>
  ask(
    api.PATCH("/api/trials/{trial_id}/pieces/{piece_id}/readings", {
      params: { path: { trial_id: id, piece_id: pieceId } },
      body: { field, was, now },
    }),
  );

export const noteDeviation = (id: number, pieceId: number, was: string, now: string) =>
  ask(
    api.PATCH("/api/trials/{trial_id}/pieces/{piece_id}/deviation", {
      params: { path: { trial_id: id, piece_id: pieceId } },
      body: { was, now },
    }),
  );

export const takePanel = (id: number, panel: number, level: number, reason: string) =>
  ask(
    api.POST("/api/trials/{trial_id}/panels/{panel}/move", {
      params: { path: { trial_id: id, panel } },
      body: { level, reason },
    }),
  );

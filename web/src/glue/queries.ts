// What the making stations ask and say.
import { useQuery } from "@tanstack/react-query";
import { api, ask, type Schemas } from "../api/client";
import { keys } from "../app/changes";

const path = (id: number) => ({ params: { path: { trial_id: id } } });

export const useMaking = (id: number) =>
  useQuery({
    queryKey: keys.part(id, "making"),
    queryFn: () => ask(api.GET("/api/trials/{trial_id}/making", path(id))),
    refetchInterval: 60_000,
  });

export interface GlueUp {
  pieces: number[];
  glue: string;
  family: string;
  opened_on: string | null;
  lot: string;
  kept: string;
  shop_temperature: string;
  humidity: string;
  wood_moisture: string;
  started_utc: string | null;
  note: string;
}

export const startBatch = (id: number, body: GlueUp) =>
  ask(api.POST("/api/trials/{trial_id}/batches", { ...path(id), body: body as Schemas["NewBatch"] }));

export const clamps = (id: number, turn: "on" | "off", pieces: number[], at_utc: string | null = null) =>
  ask(api.POST(`/api/trials/{trial_id}/clamps/${turn}`, { ...path(id), body: { pieces, at_utc } }));

export const voidPiece = (id: number, pieceId: number, reason: string) =>
  ask(
    api.POST("/api/trials/{trial_id}/pieces/{piece_id}/void", {
      params: { path: { trial_id: id, piece_id: pieceId } },
      body: { reason },
    }),
  );

export const unvoidPiece = (id: number, pieceId: number) =>
  ask(
    api.POST("/api/trials/{trial_id}/pieces/{piece_id}/unvoid", {
      params: { path: { trial_id: id, piece_id: pieceId } },
    }),
  );

export const writeNote = (id: number, batchId: number, was: string, now: string) =>
  ask(
    api.PUT("/api/trials/{trial_id}/batches/{batch_id}/note", {
      params: { path: { trial_id: id, batch_id: batchId } },
      body: { was, now },
    }),
  );

export const measureSize = (id: number, pieceId: number, name: string, was: string, now: string) =>
  ask(
    api.PUT("/api/trials/{trial_id}/pieces/{piece_id}/size", {
      params: { path: { trial_id: id, piece_id: pieceId } },
      body: { name, was, now },
    }),
  );

/** Two pieces were glued with each other's second part. */
export const swapPartners = (id: number, pieceId: number, other: number) =>
  ask(
    api.POST("/api/trials/{trial_id}/pieces/{piece_id}/swap", {
      params: { path: { trial_id: id, piece_id: pieceId } },
      body: { other },
    }),
  );

// What the making stations ask and say.
import { useQuery } from "@tanstack/react-query";
import { api, asFile, ask, type Schemas } from "../api/client";
import { keys } from "../app/changes";

const path = (id: number) => ({ params: { path: { trial_id: id } } });

export const useMaking = (id: number) =>
  useQuery({
    queryKey: keys.part(id, "making"),
    queryFn: () => ask(api.GET("/api/trials/{trial_id}/making", path(id))),
    refetchInterval: 60_000,
  });

export type GlueUp = Required<Schemas["BatchEntry"]>;

export const startBatch = (id: number, body: GlueUp) =>
  ask(api.POST("/api/trials/{trial_id}/batches", { ...path(id), body }));

export const putClampsOn = (id: number, pieces: number[], at_utc: string | null = null) =>
  ask(api.POST("/api/trials/{trial_id}/pieces/clamp", { ...path(id), body: { pieces, at_utc } }));
export const takeClampsOff = (id: number, pieces: number[], at_utc: string | null = null) =>
  ask(api.POST("/api/trials/{trial_id}/pieces/release", { ...path(id), body: { pieces, at_utc } }));

export const voidPiece = (id: number, pieceId: number, reason: string) =>
  ask(
    api.POST("/api/trials/{trial_id}/pieces/{piece_id}/void", {
      params: { path: { trial_id: id, piece_id: pieceId } },
      body: { reason },
    }),
  );

export const restorePiece = (id: number, pieceId: number) =>
  ask(
    api.POST("/api/trials/{trial_id}/pieces/{piece_id}/restore", {
      params: { path: { trial_id: id, piece_id: pieceId } },
    }),
  );

export const writeNote = (id: number, batchId: number, was: string, now: string) =>
  ask(
    api.PATCH("/api/trials/{trial_id}/batches/{batch_id}/note", {
      params: { path: { trial_id: id, batch_id: batchId } },
      body: { was, now },
    }),
  );

export const measureSize = (id: number, pieceId: number, field: string, was: string, now: string) =>
  ask(
    api.PATCH("/api/trials/{trial_id}/pieces/{piece_id}/sizes", {
      params: { path: { trial_id: id, piece_id: pieceId } },
      body: { field, was, now },
    }),
  );

/** Two pieces were glued with each other's second part. */
export const swapPartners = (id: number, pieceId: number, other: number) =>
  ask(
    api.POST("/api/trials/{trial_id}/pieces/{piece_id}/swap-parts", {
      params: { path: { trial_id: id, piece_id: pieceId } },
      body: { other },
    }),
  );

const batch = (id: number, batchId: number) => ({ params: { path: { trial_id: id, batch_id: batchId } } });

export const keepClampForce = (id: number, pieces: number[], rig_id: number) =>
  ask(api.POST("/api/trials/{trial_id}/pieces/clamp-force", { ...path(id), body: { pieces, rig_id } }));

export const sendBatchPhoto = (id: number, batchId: number, file: File) =>
  ask(
    api.POST("/api/trials/{trial_id}/batches/{batch_id}/photo", {
      ...batch(id, batchId),
      ...asFile(file),
    }),
  );

/** The sets that a piece can really have been made as. */
export const useTreatmentChoices = (id: number, pieceId: number) =>
  useQuery({
    queryKey: keys.part(id, `treatments of ${pieceId}`),
    queryFn: () =>
      ask(
        api.GET("/api/trials/{trial_id}/pieces/{piece_id}/treatments", {
          params: { path: { trial_id: id, piece_id: pieceId } },
        }),
      ),
  });

export const changeTreatment = (id: number, pieceId: number, treatment_id: number, reason: string) =>
  ask(
    api.POST("/api/trials/{trial_id}/pieces/{piece_id}/change-treatment", {
      params: { path: { trial_id: id, piece_id: pieceId } },
      body: { treatment_id, reason },
    }),
  );

export const markStep = (id: number, pieces: number[], step: Schemas["GlueStep"]) =>
  ask(api.POST("/api/trials/{trial_id}/pieces/step", { ...path(id), body: { step, pieces } }));

export const editBatch = (id: number, batchId: number, field: string, was: string, now: string) =>
  ask(
    api.PATCH("/api/trials/{trial_id}/batches/{batch_id}", {
      ...batch(id, batchId),
      body: { field, was, now },
    }),
  );

export const mixNow = (id: number, batchId: number) =>
  ask(api.POST("/api/trials/{trial_id}/batches/{batch_id}/mix", batch(id, batchId)));

export const useRunSheet = (id: number, batchId: number) =>
  useQuery({
    queryKey: keys.part(id, `run-sheet ${batchId}`),
    queryFn: () => ask(api.GET("/api/trials/{trial_id}/batches/{batch_id}/run-sheet", batch(id, batchId))),
  });

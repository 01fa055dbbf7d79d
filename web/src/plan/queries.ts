// What the Plan station asks and says.
import { useQuery } from "@tanstack/react-query";
import { api, ask, type Schemas } from "../api/client";
import { readLines } from "../api/lines";
import { keys } from "../app/changes";

const path = (id: number) => ({ params: { path: { trial_id: id } } });

export const usePlan = (id: number) =>
  useQuery({
    queryKey: keys.part(id, "plan"),
    queryFn: () => ask(api.GET("/api/trials/{trial_id}/plan", path(id))),
  });

export const useCutList = (id: number) =>
  useQuery({
    queryKey: keys.part(id, "cut-list"),
    queryFn: () => ask(api.GET("/api/trials/{trial_id}/cut-list", path(id))),
  });

export const editPlan = (id: number, field: string, was: string, now: string, reason = "") =>
  ask(api.PATCH("/api/trials/{trial_id}/plan", { ...path(id), body: { field, was, now, reason } }));

export const joinLate = (id: number, body: Schemas["LateEntry"]) =>
  ask(api.POST("/api/trials/{trial_id}/pieces/join", { ...path(id), body }));

/** Leave the pieces of a set that are not broken whole. */
export const dropSet = (id: number, body: Schemas["DropEntry"]) =>
  ask(api.POST("/api/trials/{trial_id}/drop", { ...path(id), body }));

export const addFactor = (id: number, kind: string) =>
  ask(
    api.POST("/api/trials/{trial_id}/factors", {
      ...path(id),
      body: { kind: kind as Schemas["Factor"], name: "" },
    }),
  );

export const editFactor = (id: number, factorId: number, field: string, was: string, now: string) =>
  ask(
    api.PATCH("/api/trials/{trial_id}/factors/{factor_id}", {
      params: { path: { trial_id: id, factor_id: factorId } },
      body: { field, was, now },
    }),
  );

export const removeFactor = (id: number, factorId: number) =>
  ask(
    api.DELETE("/api/trials/{trial_id}/factors/{factor_id}", {
      params: { path: { trial_id: id, factor_id: factorId } },
    }),
  );

export const addLevel = (id: number, factorId: number, value: string, family: string) =>
  ask(
    api.POST("/api/trials/{trial_id}/factors/{factor_id}/levels", {
      params: { path: { trial_id: id, factor_id: factorId } },
      body: { value, family: family as Schemas["GlueFamily"] | "" },
    }),
  );

export const addSpaced = (id: number, factorId: number, body: Schemas["SpacedEntry"]) =>
  ask(
    api.POST("/api/trials/{trial_id}/factors/{factor_id}/spaced", {
      params: { path: { trial_id: id, factor_id: factorId } },
      body,
    }),
  );

export const removeLevel = (id: number, levelId: number) =>
  ask(
    api.DELETE("/api/trials/{trial_id}/levels/{level_id}", {
      params: { path: { trial_id: id, level_id: levelId } },
    }),
  );

export const addControl = (id: number, kind: string) =>
  ask(
    api.POST("/api/trials/{trial_id}/controls", {
      ...path(id),
      body: { kind: kind as Schemas["TreatmentKind"], recipe: "" },
    }),
  );

export const editSet = (id: number, treatmentId: number, field: string, was: string, now: string) =>
  ask(
    api.PATCH("/api/trials/{trial_id}/treatments/{treatment_id}", {
      params: { path: { trial_id: id, treatment_id: treatmentId } },
      body: { field, was, now },
    }),
  );

export const leaveOut = (id: number, treatments: number[], out: boolean) =>
  ask(api.POST("/api/trials/{trial_id}/treatments/leave-out", { ...path(id), body: { treatments, out } }));

export const removeControl = (id: number, treatmentId: number) =>
  ask(
    api.DELETE("/api/trials/{trial_id}/treatments/{treatment_id}", {
      params: { path: { trial_id: id, treatment_id: treatmentId } },
    }),
  );

export const addBoards = (id: number, body: { species: string; holds: string; count: string }) =>
  ask(api.POST("/api/trials/{trial_id}/boards", { ...path(id), body }));

export const takeBoards = (id: number, stock: number[]) =>
  ask(api.POST("/api/trials/{trial_id}/boards/from-shop", { ...path(id), body: { stock } }));

export const editBoard = (id: number, boardId: number, field: string, was: string, now: string) =>
  ask(
    api.PATCH("/api/trials/{trial_id}/boards/{board_id}", {
      params: { path: { trial_id: id, board_id: boardId } },
      body: { field, was, now },
    }),
  );

export const fitBoard = (id: number, boardId: number) =>
  ask(
    api.POST("/api/trials/{trial_id}/boards/{board_id}/fit", {
      params: { path: { trial_id: id, board_id: boardId } },
    }),
  );

export const removeBoard = (id: number, boardId: number) =>
  ask(
    api.DELETE("/api/trials/{trial_id}/boards/{board_id}", {
      params: { path: { trial_id: id, board_id: boardId } },
    }),
  );

export const addStep = (id: number, words: string, turn: "before" | "after") =>
  ask(api.POST("/api/trials/{trial_id}/steps", { ...path(id), body: { words, turn } }));

export const tickStep = (id: number, stepId: number, done: boolean) =>
  ask(
    api.PATCH("/api/trials/{trial_id}/steps/{step_id}", {
      params: { path: { trial_id: id, step_id: stepId } },
      body: { done },
    }),
  );

export const removeStep = (id: number, stepId: number) =>
  ask(
    api.DELETE("/api/trials/{trial_id}/steps/{step_id}", {
      params: { path: { trial_id: id, step_id: stepId } },
    }),
  );

export const settle = (id: number) => ask(api.POST("/api/trials/{trial_id}/settle", path(id)));
export const reopen = (id: number) => ask(api.POST("/api/trials/{trial_id}/reopen", path(id)));

export const planAgain = (id: number, onlyMissing: boolean) =>
  ask(api.POST("/api/trials/{trial_id}/copy", { ...path(id), body: { only_missing: onlyMissing } }));

/** Break the plan on paper; hears how far it has come, line by line, and returns the outlook. */
export const dryRun = async (
  id: number,
  guesses: Schemas["Guess"][],
  held: string,
  hear: (step: Schemas["Rehearsal"]) => void,
) =>
  readLines(
    await api.POST("/api/trials/{trial_id}/dry-run", {
      ...path(id),
      body: { guesses, held },
      parseAs: "stream",
    }),
    hear,
  );

/** Deal the plan by another seed. */
export const shuffleAgain = (id: number) => ask(api.POST("/api/trials/{trial_id}/shuffle", path(id)));

export const createTrial = (body: Schemas["TrialEntry"]) => ask(api.POST("/api/trials", { body }));

export const startFrom = (body: Schemas["StarterEntry"]) =>
  ask(api.POST("/api/trials/from-starter", { body }));

export const useStarters = () =>
  useQuery({
    queryKey: ["starters"],
    queryFn: () => ask(api.GET("/api/trials/starters")),
    staleTime: Number.POSITIVE_INFINITY,
  });

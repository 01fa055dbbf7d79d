// What the Plan station asks and says.
import { useQuery } from "@tanstack/react-query";
import { api, ask } from "../api/client";
import { keys } from "../app/queries";

const path = (id: number) => ({ params: { path: { trial_id: id } } });

export const usePlan = (id: number) =>
  useQuery({
    queryKey: keys.part(id, "plan"),
    queryFn: () => ask(api.GET("/api/trials/{trial_id}/plan", path(id))),
  });

export const editPlan = (id: number, field: string, was: string, now: string) =>
  ask(api.PATCH("/api/trials/{trial_id}/plan", { ...path(id), body: { field, was, now } }));

export const addSet = (
  id: number,
  body: { value?: string; pieces: number; family?: string; solid?: boolean },
) =>
  ask(
    api.POST("/api/trials/{trial_id}/sets", {
      ...path(id),
      body: {
        value: body.value ?? "",
        pieces: body.pieces,
        family: body.family ?? "",
        solid: body.solid ?? false,
      },
    }),
  );

export const removeSet = (id: number, setId: number) =>
  ask(
    api.DELETE("/api/trials/{trial_id}/sets/{set_id}", { params: { path: { trial_id: id, set_id: setId } } }),
  );

export const addBoards = (id: number, body: { species: string; holds: string; count: string }) =>
  ask(api.POST("/api/trials/{trial_id}/boards", { ...path(id), body }));

export const editBoard = (id: number, boardId: number, field: string, was: string, now: string) =>
  ask(
    api.PATCH("/api/trials/{trial_id}/boards/{board_id}", {
      params: { path: { trial_id: id, board_id: boardId } },
      body: { field, was, now },
    }),
  );

export const removeBoard = (id: number, boardId: number) =>
  ask(
    api.DELETE("/api/trials/{trial_id}/boards/{board_id}", {
      params: { path: { trial_id: id, board_id: boardId } },
    }),
  );

export const settle = (id: number) => ask(api.POST("/api/trials/{trial_id}/settle", path(id)));
export const reopen = (id: number) => ask(api.POST("/api/trials/{trial_id}/reopen", path(id)));

// What is asked across the stations: Today, and the rack of a trial.
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, ask } from "../api/client";
import { keys } from "../app/changes";

export const useToday = () =>
  useQuery({ queryKey: keys.today, queryFn: () => ask(api.GET("/api/today")), refetchInterval: 30_000 });

export const useRack = (id: number) =>
  useQuery({
    queryKey: keys.part(id, "rack"),
    queryFn: () => ask(api.GET("/api/trials/{trial_id}/rack", { params: { path: { trial_id: id } } })),
    refetchInterval: 60_000,
  });

export const useHistory = (id: number, piece: number | null) =>
  useQuery({
    queryKey: [...keys.part(id, "history"), piece],
    placeholderData: keepPreviousData,
    queryFn: () =>
      ask(
        api.GET("/api/trials/{trial_id}/history", { params: { path: { trial_id: id }, query: { piece } } }),
      ),
  });

const trial = (id: number) => ({ params: { path: { trial_id: id } } });

export const undoChange = (id: number) => ask(api.POST("/api/trials/{trial_id}/undo", trial(id)));

export const redoChange = (id: number) => ask(api.POST("/api/trials/{trial_id}/redo", trial(id)));

export const removeTrial = (id: number) => ask(api.DELETE("/api/trials/{trial_id}", trial(id)));

export const restoreTrial = (id: number) => ask(api.POST("/api/trials/{trial_id}/restore", trial(id)));

export const openDemo = () => ask(api.POST("/api/demo"));

export const findDemo = () => ask(api.GET("/api/demo"));

export const findLabel = (code: string) => ask(api.GET("/api/labels", { params: { query: { code } } }));

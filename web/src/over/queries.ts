// What is asked across the stations: Today, and the rack of a trial.
import { useQuery } from "@tanstack/react-query";
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

// What the timetable asks and says.
import { useQuery } from "@tanstack/react-query";
import { api, ask, type Schemas } from "../api/client";
import { readLines } from "../api/lines";
import { keys } from "../app/changes";

const path = (id: number) => ({ params: { path: { trial_id: id } } });

export const useTimetable = (id: number) =>
  useQuery({
    queryKey: keys.part(id, "timetable"),
    queryFn: () => ask(api.GET("/api/trials/{trial_id}/timetable", path(id))),
    refetchInterval: 60_000,
  });

/** Search the best timetable; every better one is told as it is found. */
export const makeTimetable = async (
  id: number,
  body: Schemas["TimetableEntry"],
  hear: (found: Schemas["Found"]) => void,
) =>
  readLines(
    await api.POST("/api/trials/{trial_id}/timetable", { ...path(id), body, parseAs: "stream" }),
    hear,
  );

export const removeTimetable = (id: number) => ask(api.DELETE("/api/trials/{trial_id}/timetable", path(id)));

export const pinTask = (id: number, taskId: number, pinned: boolean, begin: string | null = null) =>
  ask(
    api.PATCH("/api/trials/{trial_id}/timetable/tasks/{task_id}", {
      params: { path: { trial_id: id, task_id: taskId } },
      body: { pinned, begin_utc: begin },
    }),
  );

export const editHours = (field: string, was: string, now: string) =>
  ask(api.PATCH("/api/shop/hours", { body: { field, was, now } }));

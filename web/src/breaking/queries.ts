// What the Break station asks and says.
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, asFile, ask, ProblemError, type Schemas } from "../api/client";
import { keys } from "../app/changes";

const path = (id: number) => ({ params: { path: { trial_id: id } } });
const pullPath = (id: number, pullId: number) => ({ params: { path: { trial_id: id, pull_id: pullId } } });
const piecePath = (id: number, pieceId: number) => ({
  params: { path: { trial_id: id, piece_id: pieceId } },
});

export const useBreak = (id: number, piece: number | null) =>
  useQuery({
    queryKey: [...keys.part(id, "break"), piece],
    placeholderData: keepPreviousData,
    queryFn: () =>
      ask(
        api.GET("/api/trials/{trial_id}/break", {
          params: { path: { trial_id: id }, query: { piece } },
        }),
      ),
  });

export const useTrace = (pullId: number | null) =>
  useQuery({
    queryKey: ["trace", pullId],
    enabled: pullId !== null,
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: () =>
      ask(api.GET("/api/pulls/{pull_id}/trace", { params: { path: { pull_id: pullId ?? 0 } } })) as Promise<
        Schemas["TraceView"]
      >,
  });

export const useSetTraces = (id: number, treatmentId: number) =>
  useQuery({
    queryKey: [...keys.part(id, "traces"), treatmentId],
    queryFn: () =>
      ask(
        api.GET("/api/trials/{trial_id}/treatments/{treatment_id}/traces", {
          params: { path: { trial_id: id, treatment_id: treatmentId } },
        }),
      ) as Promise<Schemas["SetTrace"][]>,
  });

/** How a log is read: columns by heading or number, the unit of its loads, whose its pulls are. */
export interface LogColumns {
  unit: string;
  time: string;
  load: string;
  displacement: string;
  rate: string;
  take: Schemas["LogTake"];
  at_utc: string;
}

const logCall = (id: number, pieceId: number, rig: number, columns: LogColumns, file: File) => ({
  params: {
    path: { trial_id: id, piece_id: pieceId },
    query: { rig, name: file.name.slice(0, 80), ...columns },
  },
  ...asFile(file, "text/plain"),
});
/** What is understood of a log; nothing is kept. */
export function useLog(id: number, pieceId: number, file: File, rig: number, columns: LogColumns) {
  const query = useQuery({
    queryKey: ["log", id, pieceId, file.name, file.size, rig, columns],
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: () =>
      ask(
        api.POST(
          "/api/trials/{trial_id}/pieces/{piece_id}/look-at-log",
          logCall(id, pieceId, rig, columns, file),
        ),
      ),
  });
  return { ...query, problem: query.error instanceof ProblemError ? query.error.problem : null };
}
export const takeLog = (id: number, pieceId: number, file: File, rig: number, columns: LogColumns) =>
  ask(
    api.POST("/api/trials/{trial_id}/pieces/{piece_id}/take-log", logCall(id, pieceId, rig, columns, file)),
  );

export type Judged = Schemas["Judgement"];

export const arm = (id: number, piece: number, rig: number) =>
  ask(api.POST("/api/trials/{trial_id}/pulls", { ...path(id), body: { piece, rig } }));
export const stopPull = (id: number, pullId: number) =>
  ask(api.POST("/api/trials/{trial_id}/pulls/{pull_id}/stop", pullPath(id, pullId)));
export const keepPull = (id: number, pullId: number, body: Judged) =>
  ask(api.POST("/api/trials/{trial_id}/pulls/{pull_id}/keep", { ...pullPath(id, pullId), body }));
export const retryPull = (id: number, pullId: number) =>
  ask(api.POST("/api/trials/{trial_id}/pulls/{pull_id}/retry", pullPath(id, pullId)));
/** The broken faces that are not judged, shuffled. */
export const useFaces = (id: number) =>
  useQuery({
    queryKey: keys.part(id, "faces"),
    queryFn: () => ask(api.GET("/api/trials/{trial_id}/faces", path(id))),
  });
export const sendFacePhoto = (id: number, pullId: number, file: File) =>
  ask(api.POST("/api/trials/{trial_id}/pulls/{pull_id}/photo", { ...pullPath(id, pullId), ...asFile(file) }));
/** Whether a trial that planned to look may stop. */
export const useLook = (id: number) =>
  useQuery({
    queryKey: keys.part(id, "look"),
    queryFn: () => ask(api.GET("/api/trials/{trial_id}/look", path(id))),
  });
export const stopByRule = (id: number, complete: number) =>
  ask(api.POST("/api/trials/{trial_id}/stop", { ...path(id), body: { complete } }));
export const judgeFace = (id: number, pullId: number, body: Schemas["FaceEntry"]) =>
  ask(api.PUT("/api/trials/{trial_id}/pulls/{pull_id}/face", { ...pullPath(id, pullId), body }));
export const correctBreak = (id: number, pullId: number, body: Schemas["CorrectionEntry"]) =>
  ask(api.POST("/api/trials/{trial_id}/pulls/{pull_id}/correct", { ...pullPath(id, pullId), body }));
export const breakByHand = (id: number, body: Schemas["HandBreak"]) =>
  ask(api.POST("/api/trials/{trial_id}/breaks", { ...path(id), body }));
export const choosePoint = (id: number, pullId: number, body: Schemas["PointEntry"]) =>
  ask(api.PUT("/api/trials/{trial_id}/pulls/{pull_id}/point", { ...pullPath(id, pullId), body }));
interface TypedQuery {
  typed: string;
  piece: number;
  rig?: number;
  no_rig: boolean;
  weighed: Schemas["Weighed"];
}

export const useTypedLoad = (id: number, query: TypedQuery, enabled: boolean) =>
  useQuery({
    queryKey: [...keys.part(id, "typed-load"), query],
    enabled: enabled && /\d/.test(query.typed),
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: () =>
      ask(
        api.GET("/api/trials/{trial_id}/typed-load", {
          params: { path: { trial_id: id }, query },
        }),
      ),
  });
/** What hangs on a piece, and which plate comes next. */
export const useStack = (id: number, piece: number, rig: number, plates: number[]) =>
  useQuery({
    queryKey: [...keys.part(id, "stack"), piece, rig, plates],
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: () =>
      ask(api.POST("/api/trials/{trial_id}/stack", { ...path(id), body: { piece, rig, plates } })),
  });
export const useOlderCalibrations = (id: number) =>
  useQuery({
    queryKey: keys.part(id, "older-calibrations"),
    queryFn: () => ask(api.GET("/api/trials/{trial_id}/older-calibrations", path(id))),
  });
export const recompute = (id: number, rig: number) =>
  ask(api.POST("/api/trials/{trial_id}/recompute", { ...path(id), body: { rig } }));
export const markOdd = (id: number, pieceId: number, reason: string) =>
  ask(
    api.PUT("/api/trials/{trial_id}/pieces/{piece_id}/odd", { ...piecePath(id, pieceId), body: { reason } }),
  );
export const exclude = (id: number, pieceId: number, reason: string) =>
  ask(
    api.POST("/api/trials/{trial_id}/pieces/{piece_id}/exclude", {
      ...piecePath(id, pieceId),
      body: { reason },
    }),
  );
export const putBack = (id: number, pieceId: number) =>
  ask(api.POST("/api/trials/{trial_id}/pieces/{piece_id}/include", piecePath(id, pieceId)));
export const loadPractice = (id: number, piece: number, rig: number, mode: Schemas["Mode"]) =>
  ask(api.POST("/api/trials/{trial_id}/pieces/practice", { ...path(id), body: { piece, rig, mode } }));
export const startPracticeRig = (id: number) =>
  ask(api.POST("/api/trials/{trial_id}/practice-rig", path(id)));
export const commandPractice = (rig: number, command: string) =>
  ask(api.POST("/api/rigs/{rig_id}/practice", { params: { path: { rig_id: rig } }, body: { command } }));

export const connectRig = (id: number) =>
  ask(api.POST("/api/rigs/{rig_id}/connect", { params: { path: { rig_id: id } } }));

// What bringing in a table asks: drop it, look again with what was said of it, make a trial of it.
import { api, asFile, ask, type Schemas } from "../api/client";

export type Found = Schemas["FoundView"];
export type Said = Schemas["TableSaid"];

export const NOTHING_SAID: Said = { roles: [], layouts: [], answers: [], sheet: "" };

export const dropTable = (file: File, encoding: string) =>
  ask(
    api.POST("/api/tables", { params: { query: { name: file.name, encoding } }, ...asFile(file) }),
  ) as Promise<Found>;

/** How far the reading of a dropped table has come. */
export const seeDoing = () => ask(api.GET("/api/tables/doing")) as Promise<Schemas["Doing"]>;

const path = (sha256: string) => ({ params: { path: { sha256 } } });

export const lookAgain = (sha256: string, said: Said) =>
  ask(api.POST("/api/tables/{sha256}/look", { ...path(sha256), body: said })) as Promise<Found>;

export const takeTable = (sha256: string, body: Schemas["TakeEntry"]) =>
  ask(api.POST("/api/tables/{sha256}/take", { ...path(sha256), body }));

export type FileView = Schemas["FileView"];

export const lookAtFile = (file: File) => ask(api.POST("/api/files/look", asFile(file))) as Promise<FileView>;

export const takePackage = (file: File) =>
  ask(api.POST("/api/packages", { params: { query: { name: file.name } }, ...asFile(file) }));

const newer = (trialId: number, sha256: string) => ({ params: { path: { trial_id: trialId, sha256 } } });

export const viewChanges = (trialId: number, sha256: string, said: Said) =>
  ask(
    api.POST("/api/trials/{trial_id}/tables/{sha256}/changes", { ...newer(trialId, sha256), body: said }),
  ) as Promise<Schemas["NewerView"]>;

export const takeChanges = (trialId: number, sha256: string, said: Said, picks: string[]) =>
  ask(
    api.POST("/api/trials/{trial_id}/tables/{sha256}/take", {
      ...newer(trialId, sha256),
      body: { said, picks },
    }),
  );

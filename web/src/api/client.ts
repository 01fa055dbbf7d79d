// The one way to the server: typed by the OpenAPI document, problems as errors.
import createClient from "openapi-fetch";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];
export const api = createClient<paths>();

export class ProblemError extends Error {
  constructor(readonly problem: Schemas["Problem"]) {
    super(problem.detail);
  }
}

const OFFLINE: Schemas["Problem"] = {
  type: "/api/problems/offline",
  title: "The program does not answer.",
  status: 0,
  detail: "The program does not answer. Nothing was saved. Start it again, then repeat the step.",
  code: "offline",
  choices: [],
  faults: [],
};

type Answer<T> = { data?: T; error?: unknown; response: Response };

/** Wait for a call and return its data; throw a ProblemError for anything else. */
export async function ask<T>(call: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>;
  try {
    answer = await call;
  } catch {
    throw new ProblemError(OFFLINE);
  }
  if (!answer.response.ok) {
    const problem = answer.error as Schemas["Problem"] | undefined;
    throw new ProblemError(problem?.detail ? problem : { ...OFFLINE, status: answer.response.status });
  }
  return answer.data as T;
}

/** A file as the body of a call. */
export const asFile = (file: File, type = file.type || "application/octet-stream") => ({
  body: file as unknown as string,
  bodySerializer: (content: unknown) => content as BodyInit,
  headers: { "Content-Type": type },
});

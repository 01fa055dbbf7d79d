// Answers that come line by line, each a JSON value: long work tells how far it is.
import { ProblemError, type Schemas } from "./client";

interface Answer {
  data?: unknown;
  error?: unknown;
  response: Response;
}

export async function readLines<Line>(answer: Answer, hear: (line: Line) => void): Promise<void> {
  if (!answer.response.ok) throw new ProblemError(answer.error as Schemas["Problem"]);
  const reader = (answer.data as ReadableStream<BufferSource>)
    .pipeThrough(new TextDecoderStream())
    .getReader();
  let rest = "";
  for (;;) {
    const { done, value } = await reader.read();
    if (done) return;
    const lines = (rest + value).split("\n");
    rest = lines.pop() ?? "";
    for (const line of lines) hear(JSON.parse(line) as Line);
  }
}

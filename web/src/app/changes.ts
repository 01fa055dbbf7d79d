// How changes are made, and how those of other windows arrive.
import { type QueryClient, useMutation, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { ProblemError, type Schemas } from "../api/client";

export const keys = {
  today: ["today"] as const,
  shop: ["shop"] as const,
  book: ["book"] as const,
  trials: ["trial"] as const,
  trial: (id: number) => ["trial", id] as const,
  part: (id: number, part: string) => ["trial", id, part] as const,
};

/** Hear every change, from this window or another, and fetch what it touched again. */
export function useChanges(): void {
  const client = useQueryClient();
  useEffect(() => {
    const source = new EventSource("/api/events");
    let connected = false;
    source.addEventListener("ready", () => {
      if (connected) client.invalidateQueries();
      connected = true;
    });
    source.addEventListener("change", (event) => {
      const what = (event as MessageEvent<string>).data;
      client.invalidateQueries({ queryKey: keys.today });
      client.invalidateQueries({ queryKey: keys.book });
      if (what === "shop") forgetShop(client);
      else client.invalidateQueries({ queryKey: keys.trial(Number(what)) });
    });
    return () => source.close();
  }, [client]);
}

/** Fetch the shop again, and whatever of a trial follows from it: prices, clamps, rigs, boards. */
const forgetShop = (client: QueryClient) =>
  Promise.all([
    client.invalidateQueries({ queryKey: keys.shop }),
    client.invalidateQueries({ queryKey: keys.trials }),
  ]);

export interface Act {
  run: (call: () => Promise<unknown>) => Promise<boolean>;
  busy: boolean;
  problem: Schemas["Problem"] | null;
  clear: () => void;
}

/**
 * Do something that changes a trial or the shop, its problem kept until the next. One at a time in the whole window: what
 * is pressed before the last change has landed waits for it, so that it is never answered for the state before.
 */
export function useAct(trialId?: number): Act {
  const client = useQueryClient();
  const [problem, setProblem] = useState<Schemas["Problem"] | null>(null);
  const mutation = useMutation({
    mutationFn: (call: () => Promise<unknown>) => call(),
    scope: { id: String(trialId ?? "shop") },
    onSettled: () =>
      Promise.all([
        client.invalidateQueries({ queryKey: keys.today }),
        client.invalidateQueries({ queryKey: keys.book }),
        trialId === undefined ? forgetShop(client) : client.invalidateQueries({ queryKey: keys.shop }),
        trialId === undefined ? null : client.invalidateQueries({ queryKey: keys.trial(trialId) }),
      ]),
  });
  const run = async (call: () => Promise<unknown>): Promise<boolean> => {
    setProblem(null);
    try {
      await mutation.mutateAsync(call);
      return true;
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      setProblem(error.problem);
      return false;
    }
  };
  return { run, busy: mutation.isPending, problem, clear: () => setProblem(null) };
}

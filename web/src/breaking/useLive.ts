// A rig's live feed over one WebSocket: the newest view, and the samples of the pull that runs.
import { useEffect, useRef, useState } from "react";
import type { Schemas } from "../api/client";
import type { TraceFeed } from "../charts/LiveTrace";

/** What the server sends 20 times a second. */
export type Live = Schemas["LiveView"];

const IDLE_S = 15;
const RECONNECT_MS = 1000;

export function useLive(rigId: number | null) {
  const [live, setLive] = useState<Live | null>(null);
  const feed = useRef<TraceFeed>({ times: [], loads: [] });
  const [version, setVersion] = useState(0);

  useEffect(() => {
    if (rigId === null) return;
    let socket: WebSocket;
    let timer: ReturnType<typeof setTimeout>;
    let leaving = false;
    let pullId: number | null = null;
    let start: number | null = null;
    const open = () => {
      const scheme = window.location.protocol === "https:" ? "wss" : "ws";
      socket = new WebSocket(`${scheme}://${window.location.host}/api/rigs/${rigId}/live`);
      socket.onmessage = (event: MessageEvent<string>) => {
        const view = JSON.parse(event.data) as Live;
        const running = view.pull?.pull_id ?? null;
        if (running !== pullId) {
          pullId = running;
          if (running !== null) start = null;
          if (running !== null) feed.current = { times: [], loads: [] };
        }
        for (const [time, load] of view.samples) {
          start ??= time;
          feed.current.times.push(time - start);
          feed.current.loads.push(load);
        }
        if (running === null) trim(feed.current);
        setLive(view);
        setVersion((v) => v + 1);
      };
      socket.onclose = () => {
        setLive((view) => (view ? { ...view, state: "closed" } : null));
        if (!leaving) timer = setTimeout(open, RECONNECT_MS);
      };
    };
    open();
    return () => {
      leaving = true;
      clearTimeout(timer);
      socket.close();
      setLive(null);
      feed.current = { times: [], loads: [] };
    };
  }, [rigId]);

  return { live: rigId === null ? null : live, feed: feed.current, version };
}

/** Between pulls only the last seconds stay in the picture. */
function trim(feed: TraceFeed): void {
  const newest = feed.times.at(-1) ?? 0;
  const first = feed.times.findIndex((time) => newest - time <= IDLE_S);
  if (first > 0) {
    feed.times.splice(0, first);
    feed.loads.splice(0, first);
  }
}

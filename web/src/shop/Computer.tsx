// The computer that Adhaero runs on: copies of the shop, other devices, and whose work it is made of.
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask } from "../api/client";
import { useAct } from "../app/changes";
import { Trouble } from "../ui/Trouble";
import { makeCopy, renewPairing, useCopies, useDevices } from "./queries";

export function Computer() {
  return (
    <div className="grid gap-6">
      <Copies />
      <Devices />
      <About />
    </div>
  );
}

function Copies() {
  const act = useAct();
  const [made, setMade] = useState("");
  const copies = useCopies();
  const copy = () =>
    void act.run(async () => {
      setMade((await makeCopy()).path);
    });
  return (
    <section aria-label="Copies of the shop">
      <h3 className="text-lg">Copies of the shop</h3>
      <p>
        The whole shop is one file: <span className="mono break-all">{copies.data?.path}</span>. A photo of a
        page is no copy, and a plain copy of this file may lack what was saved last.
      </p>
      <button type="button" className="press mt-2" disabled={act.busy} onClick={copy}>
        Copy the shop now
      </button>
      {made && (
        <p role="status" className="mt-1">
          Copied to <span className="mono break-all">{made}</span>. Keep it on another disk.
        </p>
      )}
      <Trouble problem={act.problem} />
      {copies.data && (
        <p className="pencil mt-1">
          {copies.data.days.length
            ? `A copy of each day of use stands beside it: ${copies.data.days.slice(0, 3).join(", ")}${copies.data.days.length > 3 ? ` and ${copies.data.days.length - 3} more` : ""}.`
            : "A copy of each day of use is kept beside it."}{" "}
          Going back to one: <span className="mono">adhaero restore FILE</span>.
        </p>
      )}
    </section>
  );
}

function Devices() {
  const act = useAct();
  const devices = useDevices();
  const renew = () =>
    void act.run(async () => {
      await renewPairing();
      await devices.refetch();
    });
  return (
    <section aria-label="Other devices">
      <h3 className="text-lg">Other devices</h3>
      {devices.isError && <p>{devices.error.message}</p>}
      {devices.data?.address === "" && (
        <p>
          Only this computer is listened to. For a tablet at the bench, start it with{" "}
          <span className="mono whitespace-nowrap">adhaero serve --host 0.0.0.0</span>.
        </p>
      )}
      {devices.data && devices.data.address !== "" && (
        <div className="grid gap-4 sm:grid-cols-[1fr_auto]">
          <div>
            <p>
              On the same network, scan the code or open{" "}
              <strong className="mono break-all">{devices.data.address}</strong> and type the pairing word{" "}
              <strong className="mono text-xl">{devices.data.word}</strong>.
            </p>
            <p className="mt-2 border-l-4 border-pencil pl-3">
              Without the word a device reads nothing and changes nothing. What a paired device sends and
              reads goes over the network in the clear: anyone who listens there can read it. Use a network
              that is yours.
            </p>
            <button type="button" className="press mt-2" disabled={act.busy} onClick={renew}>
              Send every device away: another word
            </button>
            <Trouble problem={act.problem} />
          </div>
          <img
            className="size-44 border rule bg-sheet"
            alt={`Code to scan: ${devices.data.address}`}
            src={`data:image/svg+xml,${encodeURIComponent(devices.data.code)}`}
          />
        </div>
      )}
    </section>
  );
}

function About() {
  const notice = useQuery({
    queryKey: ["notice"],
    enabled: false,
    queryFn: () => ask(api.GET("/api/notice")),
  });
  return (
    <section aria-label="About">
      <h3 className="text-lg">About</h3>
      {notice.data ? (
        <pre className="max-h-80 overflow-auto bg-plaster p-3 text-sm whitespace-pre-wrap">
          {notice.data.text}
        </pre>
      ) : (
        <button type="button" className="link" onClick={() => void notice.refetch()}>
          Licences of the fonts and programs that are shipped with it
        </button>
      )}
    </section>
  );
}

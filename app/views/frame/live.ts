import { useEffect, useRef, useState } from "react";
import { useLocation, useRevalidator } from "react-router";
import { follow } from "./stream.ts";

const SETTLE = 150;
/** How long until it is tried again to listen, where the server turned away who did, in milliseconds. */
const AGAIN = 5_000;
/**
 * By then a window usually listens, in milliseconds; what happened since its page was asked for is asked for once. One
 * that listens later than that, on a slow line or since it took over from a window that went, asks once more.
 */
const LISTENS = 1_000;

/** How a window stands to the server: what it shows is kept up to date, or is what it last was. */
export type Standing = "live" | "signed out";

/**
 * Asks again for what the page shows whenever something that concerns the person has happened; on
 * pages of workflows, which count all pieces, whenever anything has. The windows of one browser share
 * a stream, since a browser opens only a few to one host: whoever holds the lock listens and tells the
 * others; when that window goes, the next one takes it up.
 *
 * Before anything is asked for anew it is asked whether the session still is: without it, or without a
 * connection, the page would give way to another, and what is typed in it be lost.
 *
 * @param me whose the page is, by id: when somebody else signed in, it is theirs no more
 * @param end where the ledger ended when the page was asked for
 */
export function useLive(me: string, end: number): Standing {
  const { revalidate } = useRevalidator();
  const lines = useLocation().pathname.startsWith("/workflows");
  const known = useRef(end);
  known.current = end;
  const [standing, setStanding] = useState<Standing>("live");
  useEffect(() => {
    const address = lines ? "/live?of=lines" : "/live";
    const channel = new BroadcastChannel(`elenco:${address}`);
    const ending = new AbortController();
    let timer: ReturnType<typeof setTimeout> | undefined;
    const ask = async (since?: number) => {
      const still = await fetch(`/live/still${since === undefined ? "" : `?since=${since}`}`).catch(() => null);
      if (ending.signal.aborted || !still) return;
      if (still.status === 401) setStanding("signed out");
      if (!still.ok) return;
      const { id, missed } = await still.json();
      if (id !== me) return window.location.reload();
      setStanding("live");
      if (since === undefined || missed) await revalidate();
    };
    const changed = () => {
      clearTimeout(timer);
      timer = setTimeout(ask, SETTLE);
    };
    timer = setTimeout(() => ask(known.current), LISTENS);
    const tellAll = () => {
      changed();
      channel.postMessage("changed");
    };
    const asked = performance.now();
    const listen = () =>
      new Promise<void>((resolve) => {
        const late = () => performance.now() - asked > LISTENS;
        const stop = follow(() => new EventSource(address), tellAll, late, AGAIN);
        ending.signal.addEventListener("abort", () => {
          stop();
          resolve();
        });
      });
    channel.addEventListener("message", changed);
    if (navigator.locks)
      navigator.locks.request(`elenco:${address}`, { signal: ending.signal }, listen).catch(() => {});
    else void listen();
    return () => {
      clearTimeout(timer);
      ending.abort();
      channel.close();
    };
  }, [revalidate, lines, me]);
  return standing;
}

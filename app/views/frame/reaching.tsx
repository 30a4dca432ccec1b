import { getNonce } from "get-nonce";
import { useEffect, useRef, useState } from "react";
import { useFetcher, useLocation, useNavigation } from "react-router";
import { aheadOf, OFTEN } from "./ahead.ts";

/** What the router knows of the scripts of the routes it has heard of. */
interface Manifest {
  routes: Record<string, { module: string; imports?: string[] } | undefined>;
}

const scriptsOf = ({ routes }: Manifest) =>
  new Set(OFTEN.flatMap(([id]) => [routes[id]?.module ?? [], routes[id]?.imports ?? []].flat()));

/** Once a page has stood so long its links are known to the router, in milliseconds. */
const SETTLED = 800;

/** Fetches the scripts of the pages one goes to most once a page stands. */
export function useScriptsAhead(): void {
  useEffect(() => {
    const timer = setTimeout(() => {
      const manifest = (window as { __reactRouterManifest?: Manifest }).__reactRouterManifest;
      for (const href of manifest ? scriptsOf(manifest) : []) {
        if (performance.getEntriesByName(new URL(href, location.href).href).length > 0) continue;
        const link = document.createElement("link");
        Object.assign(link, { rel: "modulepreload", href, nonce: getNonce() });
        document.head.append(link);
      }
    }, SETTLED);
    return () => clearTimeout(timer);
  }, []);
}

/** How long somebody rests on a link before what it leads to is fetched, in milliseconds. */
const RESTS = 60;

/** Fetches one of these pages once somebody rests on a link to it, by the pointer or by the keyboard. */
export function Reaching() {
  const reached = useReached();
  return reached && <Fetching key={reached} address={reached} />;
}

function Fetching({ address }: { address: string }) {
  const { load } = useFetcher();
  useEffect(() => void load(address), [load, address]);
  return null;
}

/** What is asked for ahead of whoever rests on a link. */
function useReached(): string | null {
  const { key } = useLocation();
  const [reached, setReached] = useState<string | null>(null);
  const idle = useRef(true);
  idle.current = useNavigation().state === "idle";
  // biome-ignore lint/correctness/useExhaustiveDependencies: whoever has gone on rests on nothing yet
  useEffect(() => setReached(null), [key]);
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined;
    const onReach = ({ target }: Event) => {
      clearTimeout(timer);
      const link = target instanceof Element ? target.closest("a") : null;
      // A link in a drawing says its address otherwise.
      const there = link instanceof HTMLAnchorElement ? aheadOf(link.href, location.href) : null;
      // Whoever is on their way rests on nothing.
      timer = setTimeout(() => setReached(idle.current ? there : null), RESTS);
    };
    const ending = new AbortController();
    for (const way of ["pointerover", "focusin"]) document.addEventListener(way, onReach, ending);
    // Whoever is quicker has asked for it themselves.
    document.addEventListener("click", () => clearTimeout(timer), ending);
    return () => {
      clearTimeout(timer);
      ending.abort();
    };
  }, []);
  return reached;
}

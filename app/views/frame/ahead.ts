import { getNonce } from "get-nonce";
import { useEffect } from "react";

/** The pages one goes to most, by their routes. */
const OFTEN = ["routes/turn", "routes/pieces", "routes/piece", "routes/schedule"];

/** What the router knows of the scripts of the routes it has heard of. */
interface Manifest {
  routes: Record<string, { module: string; imports?: string[] } | undefined>;
}

const scriptsOf = ({ routes }: Manifest) =>
  new Set(OFTEN.flatMap((id) => [routes[id]?.module ?? [], routes[id]?.imports ?? []].flat()));

/** Once a page has stood so long its links are known to the router, in milliseconds. */
const SETTLED = 800;

/** Fetches the scripts of the pages one goes to most once a page stands: data is asked for when one goes. */
export function useScriptsAhead(): void {
  useEffect(() => {
    const timer = setTimeout(() => {
      const manifest = (window as { __reactRouterManifest?: Manifest }).__reactRouterManifest;
      for (const href of manifest ? scriptsOf(manifest) : []) {
        if (document.querySelector(`link[rel="modulepreload"][href="${href}"]`)) continue;
        const link = document.createElement("link");
        Object.assign(link, { rel: "modulepreload", href, nonce: getNonce() });
        document.head.append(link);
      }
    }, SETTLED);
    return () => clearTimeout(timer);
  }, []);
}

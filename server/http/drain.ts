import type { RequestHandler } from "express";

/**
 * Whoever waits for an answer to drain waits once. The compression middleware hands its listeners on to a stream of
 * its own, from which nobody takes them back: each wait would leave one more behind, until Node warns of a leak.
 */
export const drainsOnce: RequestHandler = (_, response, next) => {
  const { once, off } = response;
  const waiting = new Set<() => void>();
  let listens = false;
  response.once = (type: string | symbol, listener: (...told: never[]) => void) => {
    if (type !== "drain") return once.call(response, type, listener as () => void);
    waiting.add(listener as () => void);
    if (!listens) {
      listens = true;
      response.on("drain", () => {
        const all = [...waiting];
        waiting.clear();
        for (const one of all) one();
      });
    }
    return response;
  };
  response.off = response.removeListener = (type: string | symbol, listener: (...told: never[]) => void) => {
    if (type === "drain" && waiting.delete(listener as () => void)) return response;
    return off.call(response, type, listener as () => void);
  };
  next();
};

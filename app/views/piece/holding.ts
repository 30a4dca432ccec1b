import { useEffect, useState } from "react";
import type { PiecePageData } from "#server/pieces/page.ts";
import { windowId } from "./window.ts";

/** Whether this window may write in a text just now. */
export interface Holding {
  writable: boolean;
  /** Whether somebody else writes in it, or oneself in another window. */
  elsewhere: boolean;
}

/** Who writes in a piece's text, seen from this window. */
export function useHolding({ editable, holder }: Pick<PiecePageData, "editable" | "holder">): Holding {
  const [own, setOwn] = useState<string | null>(null);
  useEffect(() => {
    void windowId().then(setOwn);
  }, []);
  const elsewhere = holder !== null && (!holder.self || (own !== null && holder.window !== own));
  return { writable: editable && !elsewhere, elsewhere };
}

import { useEffect, useRef, useState } from "react";
import { useFetcher } from "react-router";
import type { FormAnswer } from "#app/form-answer.ts";
import { inParts, moved } from "#core/release/edition.ts";
import type { EditionData } from "./data.ts";

/** A piece on its way to another place: before another, or to the end of a part. */
interface Move {
  pieceId: string;
  part: string;
  before: string | null;
}
type Item = NonNullable<EditionData["contents"]>["items"][number];

/**
 * The order of an edition while one changes it: each move shows at once, and is sent after the one before it has
 * been answered, so that they come in the order in which they were made.
 */
export function useOrdering({ id, channel, number, parts, contents }: EditionData) {
  const address = `/editions/${channel.key}/${number}`;
  const fetcher = useFetcher<FormAnswer>();
  const [moves, setMoves] = useState<readonly Move[]>([]);
  const [sent, setSent] = useState<Move | null>(null);
  const heard = useRef<FormAnswer | undefined>(undefined);
  const [refused, setRefused] = useState<string | null>(null);
  const items = moves.reduce<readonly Item[]>(
    (some, move) => moved(some, parts, move.pieceId, move.part, move.before),
    contents?.items ?? [],
  );
  // biome-ignore lint/correctness/useExhaustiveDependencies: the next one goes when the one before has been answered
  useEffect(() => {
    if (fetcher.state !== "idle") return;
    const answer = sent ? fetcher.data : undefined;
    // Given up by the browser, since the page is being left: what is not answered goes then.
    if (sent && answer === heard.current) return;
    heard.current = fetcher.data;
    const amiss = answer?.refusal?.sentence ?? Object.values(answer?.fields ?? {})[0] ?? null;
    const rest = amiss ? [] : moves.filter((move) => move !== sent);
    if (sent) {
      setRefused(amiss);
      setMoves(rest);
      setSent(null);
    }
    const [next] = rest;
    if (!next) return;
    setSent(next);
    const { pieceId, part, before } = next;
    fetcher.submit({ intent: "order", editionId: id, pieceId, part, before: before ?? "" }, { method: "post" });
  }, [fetcher.state, moves]);
  // What is on its way when the page goes may not arrive: it is sent again, and means the same twice.
  const left = useRef<readonly Move[]>([]);
  left.current = moves;
  useEffect(() => {
    const flush = () => {
      // They may come in any order: of each piece the last alone is sent.
      for (const one of new Map(left.current.map((move) => [move.pieceId, move])).values())
        sendOnLeaving(address, id, one);
      left.current = [];
    };
    addEventListener("pagehide", flush);
    return () => {
      removeEventListener("pagehide", flush);
      flush();
    };
  }, [address, id]);
  const move = (next: Move) => {
    setRefused(null);
    // Of a piece that is moved on before it was sent only the last place counts.
    setMoves((known) => {
      const last = known.at(-1);
      return last && last !== sent && last.pieceId === next.pieceId ? [...known.slice(0, -1), next] : [...known, next];
    });
  };
  return { items, refused, move };
}

/** Who leaves at once loses no move: it is sent behind their back. */
function sendOnLeaving(address: string, editionId: string, { pieceId, part, before }: Move): void {
  const body = new URLSearchParams({ intent: "order", editionId, pieceId, part, before: before ?? "" });
  void fetch(`${address}.data`, { method: "POST", body, keepalive: true });
}

/** Where a piece comes by one step up or down, over the edge of its part into the next; null at either end. */
export function stepOf(
  items: readonly Item[],
  parts: EditionData["parts"],
  pieceId: string,
  by: 1 | -1,
): Omit<Move, "pieceId"> | null {
  const groups = [...inParts(items, parts)];
  const g = groups.findIndex(([, some]) => some.some((one) => one.pieceId === pieceId));
  const [part, some] = groups[g] ?? [];
  if (part === undefined || some === undefined) return null;
  const at = some.findIndex((one) => one.pieceId === pieceId);
  const inside = some[at + by];
  if (inside) return { part, before: by < 0 ? inside.pieceId : (some[at + 2]?.pieceId ?? null) };
  const [nextPart, others = []] = groups[g + by] ?? [];
  if (nextPart === undefined) return null;
  return { part: nextPart, before: by < 0 ? null : (others[0]?.pieceId ?? null) };
}

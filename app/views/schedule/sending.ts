import { useEffect, useState } from "react";
import { useFetcher } from "react-router";
import { useToast } from "#app/ui/toast.tsx";
import { dayAfter, localDate, sameTimeOn } from "#core/time/local.ts";
import { sayDate } from "#core/time/words.ts";
import { counted } from "#core/words/say.ts";
import type { Mark } from "#server/schedule/mark.ts";
import type { Moved } from "#server/schedule/moving.ts";
import { useClock } from "../time/clock.tsx";
import type { Carrying } from "./carriage.ts";
import type { SchedulePage } from "./data.ts";

type Answer = { intent: string; done: Moved[] } | undefined;

type Move = { revision: number; at: number } & ({ pieceId: string; channel: string } | { editionId: string });

const moveOf = ({ pieceId, channel, edition, revision }: Mark, at: number): Move[] => {
  if (edition) return [{ editionId: edition.id, revision, at }];
  return pieceId === null ? [] : [{ pieceId, channel, revision, at }];
};

/** All that is carried goes by as many days as the first. */
export function movesOf({ marks, from, day }: Carrying, zone: string): Move[] {
  const by = Math.round((Date.parse(day) - Date.parse(from)) / 86_400_000);
  return marks.flatMap((mark) => moveOf(mark, sameTimeOn(mark.at, dayAfter(localDate(mark.at, zone), by), zone)));
}

/** Sends moves and confirmations; says what was done, with the way back, and keeps what was refused. */
export function useSending(page: SchedulePage) {
  const fetcher = useFetcher<Answer>();
  const say = useToast();
  const { now, zone } = useClock();
  const [answer, setAnswer] = useState<Answer>(undefined);
  const submit = (intent: string, what: unknown) =>
    fetcher.submit({ intent, what: JSON.stringify(what) }, { method: "post" });
  // biome-ignore lint/correctness/useExhaustiveDependencies: each answer is heard once, once the page is as it made it
  useEffect(() => {
    if (fetcher.state !== "idle" || !fetcher.data || fetcher.data === answer) return;
    setAnswer(fetcher.data);
    const { intent, done } = fetcher.data;
    const went = done.filter((one) => one.refused === null);
    if (went.length === 0) return;
    const first = page.marks.find((mark) => mark.id === went[0]?.id);
    const back = went.flatMap(({ id, before }): Move[] => {
      const mark = page.marks.find((one) => one.id === id);
      return mark && before !== null ? moveOf(mark, before) : [];
    });
    const what = went.length === 1 ? went[0]?.title : counted(went.length, "piece");
    const when = first && went.length === 1 ? ` to ${sayDate(first.at, zone, now)}` : "";
    say(
      intent === "confirm" ? `${what}: confirmed` : `${what} moved${when}`,
      back.length > 0 && intent === "move" ? () => submit("move", back) : undefined,
    );
  }, [fetcher.state, fetcher.data, page.marks]);
  return {
    busy: fetcher.state !== "idle",
    refused: answer?.done.filter((one) => one.refused !== null) ?? [],
    move: (moves: Move[]) => void submit("move", moves),
    confirm: (some: SchedulePage["beside"]["proposed"]) =>
      void submit(
        "confirm",
        some.map(({ pieceId, revision, channel }) => ({ pieceId, revision, channel })),
      ),
  };
}

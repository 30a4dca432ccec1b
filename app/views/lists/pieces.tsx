import { memo, useMemo } from "react";
import { useSearchParams } from "react-router";
import type { FormAnswer } from "#app/form-answer.ts";
import { ButtonLink, TextLink } from "#app/ui/button.tsx";
import { Empty } from "#app/ui/message.tsx";
import { Page } from "#app/ui/page.tsx";
import { Faces } from "#app/ui/tabs.tsx";
import { useAtOnce } from "./at-once.ts";
import { ByStops } from "./by-stops.tsx";
import { ChosenBar } from "./choosing.tsx";
import { useChoosing } from "./chosen.ts";
import { NarrowPieces, narrowing } from "./narrow-pieces.tsx";
import type { PieceListed, PiecesPage } from "./pieces-data.ts";
import { PiecesByDate, PiecesTable } from "./pieces-table.tsx";

const FACES = [
  ["", "table"],
  ["stops", "stops"],
  ["dates", "dates"],
] as const;

const SHOWN = new Map<string | null, string>([
  ["live", "live"],
  ["all", "in all"],
]);

const NONE: readonly PieceListed[] = [];

/** Every piece one may see, narrowed by the words of the address: as a table, at the stops of a line, or by their dates. */
export const PiecesView = memo(function PiecesView({ page, answer }: { page: PiecesPage; answer: FormAnswer | null }) {
  const { face, list, queues, mayBegin } = page;
  const [words] = useSearchParams();
  const query = narrowing(words);
  const rows = useMemo(() => list?.rows ?? queues?.stops.flatMap((stop) => stop.rows) ?? [], [list, queues]);
  const ids = useMemo(() => rows.map((row) => row.id), [rows]);
  const drawn = useAtOnce(list?.rows ?? NONE);
  const choosing = useChoosing(ids);
  const total = list?.total ?? queues?.stops.reduce((sum, stop) => sum + stop.all, 0) ?? 0;
  return (
    <Page
      title={
        <>
          {total === 1 ? "One piece" : `${list?.more ? "More than " : ""}${total || "No"} pieces`}{" "}
          <span className="text-15 font-normal text-rail">
            {queues ? `on the line of ${queues.line.name}` : (SHOWN.get(words.get("show")) ?? "in flight")}
          </span>
        </>
      }
      act={
        <div className="flex items-center gap-6">
          <Faces words={words} faces={FACES} />
          {mayBegin && <ButtonLink to="/pieces/new">New piece</ButtonLink>}
        </div>
      }
    >
      <NarrowPieces page={page} answer={answer} />
      {rows.length === 0 ? (
        <Empty act={query !== "" && <TextLink to="/pieces">Show everything in flight</TextLink>}>
          {query === "" ? "Nothing is in flight that you may see." : "Nothing fits these words."}
        </Empty>
      ) : face === "stops" && queues ? (
        <ByStops page={page} queues={queues} choosing={choosing} answer={answer} />
      ) : face === "dates" ? (
        <PiecesByDate
          rows={list?.rows ?? NONE}
          drawn={drawn}
          columns={page.columns}
          choosing={choosing}
          words={words}
        />
      ) : (
        <PiecesTable rows={drawn} columns={page.columns} choosing={choosing} />
      )}
      <p className="mt-4 flex gap-4 text-13">
        {words.has("after") && <TextLink to={`?${withWord(words, "after", null)}`}>From the beginning</TextLink>}
        {list?.next && <TextLink to={`?${withWord(words, "after", list.next)}`}>Further pieces</TextLink>}
      </p>
      <ChosenBar choosing={choosing} shown={ids} {...(list && !list.more && { all: { query, total } })} />
    </Page>
  );
});

/** The words of an address with one of them changed, or gone. */
function withWord(words: URLSearchParams, key: string, value: string | null): URLSearchParams {
  const next = new URLSearchParams(words);
  next.delete(key);
  if (value !== null) next.set(key, value);
  return next;
}

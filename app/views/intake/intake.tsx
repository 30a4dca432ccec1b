import { useRef, useState } from "react";
import { Form, Link } from "react-router";
import { TextLink } from "#app/ui/button.tsx";
import { Checkbox, Hidden, Input } from "#app/ui/field.tsx";
import { useFocusAfter } from "#app/ui/focus-after.ts";
import { Empty } from "#app/ui/message.tsx";
import { Beside, Page, Split } from "#app/ui/page.tsx";
import { Row, Rows } from "#app/ui/rows.tsx";
import { Due, When } from "#app/views/time/clock.tsx";
import { BECAME } from "#core/intake/item.ts";
import { counted } from "#core/words/say.ts";
import { CALLED, type IntakeAnswer, type IntakeData, type Row as ItemRow, useWith } from "./data.ts";
import { ItemPanel } from "./item.tsx";
import { Many } from "./many.tsx";
import { NoteIdea } from "./note-idea.tsx";

/** What came in, oldest first, and what is chosen of it beside the list. */
export function IntakeView({ page, answer }: { page: IntakeData; answer: IntakeAnswer }) {
  const { rows, chosen, wanted, counts } = page;
  const to = useWith();
  const [marked, setMarked] = useState<readonly string[]>([]);
  const list = useRef<HTMLUListElement>(null);
  // What was done with several, or with the last, took its buttons away.
  useFocusAfter(() =>
    chosen ? null : (list.current?.querySelector("a") ?? document.querySelector<HTMLElement>("main h1")),
  );
  const picked = rows.filter((row) => marked.includes(row.id) && row.judges);
  const at = rows.findIndex((row) => row.id === chosen?.id);
  const next = rows[at + 1] ?? rows[at - 1];
  const waiting = Object.values(counts).reduce((sum, one) => sum + one, 0);
  return (
    <Split
      roomy
      beside={
        chosen && (
          <Beside title={CALLED[chosen.sort][0]} leave={to({ item: "", do: "" })}>
            <ItemPanel key={chosen.id} item={chosen} page={page} answer={answer} next={next?.id ?? ""} />
          </Beside>
        )
      }
    >
      <div className="-mx-4 -my-5 md:-mx-6">
        <Page
          title="Intake"
          about={
            waiting === 0
              ? "Nothing waits to be judged."
              : `${counted(waiting, "thing")} ${waiting === 1 ? "waits" : "wait"} to be judged, the oldest first.`
          }
        >
          <NoteIdea answer={answer} />
          <Narrow page={page} />
          <FindWords wanted={wanted} />
          {rows.length === 0 ? (
            <Empty>{wanted.words === "" ? NOTHING[wanted.show] : "Nothing here says these words."}</Empty>
          ) : (
            <Rows ref={list} aria-label="What came in">
              {rows.map((row) => (
                <ItemLine
                  key={row.id}
                  row={row}
                  chosen={row.id === chosen?.id}
                  marked={marked.includes(row.id)}
                  onMark={(on) => setMarked(on ? [...marked, row.id] : marked.filter((one) => one !== row.id))}
                />
              ))}
            </Rows>
          )}
          {page.next && (
            <p className="mt-3">
              <TextLink to={to({ after: page.next, item: "" })}>The next of them</TextLink>
            </p>
          )}
          {picked.length > 0 && <Many rows={picked} page={page} answer={answer} onDone={() => setMarked([])} />}
        </Page>
      </div>
    </Split>
  );
}

const SHOWS = [
  ["", "Waiting"],
  ["short", "Short list"],
  ["done", "Settled"],
] as const;

/** What is shown: what waits, the short list or what was settled; of which sort; whose. */
function Narrow({ page: { wanted, counts } }: { page: IntakeData }) {
  const to = useWith();
  const link = (words: Record<string, string>, here: boolean, name: string) => (
    <Link
      key={name}
      to={to({ item: "", do: "", after: "", ...words })}
      aria-current={here ? "page" : undefined}
      className={`min-h-7 py-1 hover:text-blue ${here ? "border-b-2 border-blue font-semibold text-blue" : ""}`}
    >
      {name}
    </Link>
  );
  return (
    <nav aria-label="What is shown" className="mb-3 mt-4 flex flex-wrap gap-x-5 gap-y-1 text-13">
      {SHOWS.map(([show, name]) => link({ show }, (wanted.show === "open" ? "" : wanted.show) === show, name))}
      <span aria-hidden="true" className="py-1 text-rule max-sm:hidden">
        |
      </span>
      {link({ sort: "" }, wanted.sort === null, "Everything")}
      {(["request", "idea", "report", "material"] as const).map((sort) =>
        link({ sort }, wanted.sort === sort, `${CALLED[sort][1]}${counts[sort] ? ` ${counts[sort]}` : ""}`),
      )}
      <span aria-hidden="true" className="py-1 text-rule max-sm:hidden">
        |
      </span>
      {link({ mine: wanted.mine ? "" : "yes" }, wanted.mine, "Given to me")}
    </nav>
  );
}

/** Looks for words in what is shown: why something like it was declined, for one. */
const FindWords = ({ wanted: { show, sort, mine, words } }: Pick<IntakeData, "wanted">) => (
  <Form role="search" className="mb-3 sm:w-72">
    {show !== "open" && <Hidden name="show" value={show} />}
    {sort && <Hidden name="sort" value={sort} />}
    {mine && <Hidden name="mine" value="yes" />}
    <Input
      look="small"
      type="search"
      name="words"
      aria-label="Find by words"
      placeholder="Find by words"
      maxLength={100}
      defaultValue={words}
      className="w-full"
    />
  </Form>
);

const NOTHING: Record<IntakeData["wanted"]["show"], string> = {
  open: "Nothing waits here. What is asked for by a form, what readers say and what anybody here thinks of comes in by itself.",
  short: "No idea is on the short list yet. One is put there from its own page.",
  done: "Nothing has been settled yet.",
};

function ItemLine({
  row,
  chosen,
  marked,
  onMark,
}: {
  row: ItemRow;
  chosen: boolean;
  marked: boolean;
  onMark(on: boolean): void;
}) {
  const to = useWith();
  const open = row.standing === "waiting" || row.standing === "asked";
  const about = [
    CALLED[row.sort][0],
    row.standing === "asked" && "asked back",
    row.from && `from ${row.from}`,
    row.form,
    row.section,
    row.holder && `given to ${row.holder}`,
    row.shortlisted && "on the short list",
    row.bundle,
    row.judged > 0 && `judged by ${row.judged}`,
  ].filter(Boolean);
  return (
    <Row
      className={`grid grid-cols-[auto_minmax(0,1fr)] gap-x-3 py-1.5 sm:grid-cols-[auto_minmax(0,1fr)_150px] ${chosen ? "bg-wash" : ""}`}
    >
      {open && row.judges ? (
        <Checkbox
          data-choose=""
          aria-label={`Choose ${row.title}`}
          checked={marked}
          onChange={(event) => onMark(event.target.checked)}
        />
      ) : (
        <span className="w-6" />
      )}
      <div className="min-w-0">
        <p className="flex items-baseline gap-x-2">
          <Link
            to={to({ item: row.id, do: "" })}
            preventScrollReset
            className="max-w-full shrink-0 truncate font-semibold hover:text-blue"
          >
            {row.title}
          </Link>
          {row.words && <span className="hidden min-w-0 truncate text-13 text-rail sm:inline">{row.words}</span>}
        </p>
        <p className="truncate text-13 text-rail">
          {about.join(" · ")}
          {row.wishedAt !== null && (
            <>
              {" "}
              · wished for <When at={row.wishedAt} dateOnly />
            </>
          )}
        </p>
      </div>
      <div className="col-start-2 text-13 sm:col-start-3 sm:text-right">
        {open ? (
          row.dueAt === null ? (
            <When at={row.at} />
          ) : (
            <Due at={row.dueAt} />
          )
        ) : (
          <>
            <span className="block">{BECAME[row.standing]}</span>
            {row.slug && (
              <Link to={`/pieces/${row.slug}`} className="text-blue hover:underline">
                {row.piece}
              </Link>
            )}
            {row.settledAt !== null && (
              <span className="block text-rail">
                <When at={row.settledAt} dateOnly />
              </span>
            )}
          </>
        )}
      </div>
    </Row>
  );
}

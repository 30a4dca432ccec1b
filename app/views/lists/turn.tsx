import { memo, type ReactNode, useMemo } from "react";
import { Link, useNavigation, useSearchParams } from "react-router";
import type { Held } from "#app/packed.ts";
import { ActionForm } from "#app/ui/action-form.tsx";
import { ButtonLink, TextLink } from "#app/ui/button.tsx";
import { ChosenBar } from "#app/views/lists/choosing.tsx";
import { type Choosing, useChoosing } from "#app/views/lists/chosen.ts";
import { NUDGE, type Nudged, TurnRow } from "#app/views/lists/turn-row.tsx";
import { useClock, When } from "#app/views/time/clock.tsx";
import { sayDate, sayInstant } from "#core/time/words.ts";
import { counted } from "#core/words/say.ts";
import type { PieceRow } from "#server/pieces/rows.ts";
import type { Route } from "../../routes/+types/turn.ts";
import { useAtOnce } from "./at-once.ts";
import { Narrowing } from "./narrowing.tsx";

const WEEK = 7 * 86_400_000;

type TurnPage = Held<Route.ComponentProps["loaderData"]["packed"]>;

/** What waits on somebody, in the order it will hurt, and what they wait for. */
export const TurnView = memo(function TurnView({ page, answer }: { page: TurnPage; answer: Nudged | null }) {
  const { mine, others, next: further, said, mayBegin } = page;
  const [words] = useSearchParams();
  const { now, zone } = useClock();
  const today = sayDate(now, zone, now);
  const rows = useMemo(() => [...mine, ...others], [mine, others]);
  const ids = useMemo(() => rows.map((row) => row.id), [rows]);
  const drawn = new Set<PieceRow>(useAtOnce(rows));
  const choosing = useChoosing(ids);
  const groups: [string, (due: number | null) => boolean][] = [
    ["Late", (due) => due !== null && due < now],
    ["Today", (due) => due !== null && due >= now && sayDate(due, zone, now) === today],
    ["This week", (due) => due !== null && due >= now && sayDate(due, zone, now) !== today && due < now + WEEK],
    ["Later", (due) => due !== null && due >= now + WEEK],
    ["Without a date", (due) => due === null],
  ];
  const late = mine.filter((row) => row.dueAt !== null && row.dueAt < now).length;
  const [next] = others.filter((row) => row.dueAt !== null && row.dueAt >= now);
  const narrowed = Boolean(words.get("asked") || words.get("section"));
  const expected = next?.dueAt ? `the next expected ${sayInstant(next.dueAt, zone, now)}` : "";
  return (
    <div className="px-4 py-5 md:px-6">
      <div className="flex flex-wrap items-start gap-3">
        <div className="mr-auto">
          <h1>
            {narrowed
              ? `${mine.length === 1 && !further ? "One" : `${further ? "More than " : ""}${mine.length || "None"}`} of what waits on you`
              : further || words.has("after")
                ? `More than ${mine.length} pieces wait on you`
                : heading(mine.length)}
          </h1>
          <p className="mt-1 text-13 text-rail">
            {mine.length === 0
              ? narrowed
                ? "Nothing that waits on you fits these words."
                : expected
                  ? `You are free; ${expected}.`
                  : "Nobody waits for you, and you wait for nobody."
              : late === 0
                ? "None is late."
                : late === 1
                  ? "One is late."
                  : `${late} are late.`}
          </p>
        </div>
        {mayBegin && <ButtonLink to="/pieces/new">New piece</ButtonLink>}
      </div>
      {(narrowed || mine.length + others.length > FEW) && (
        <Narrowing
          label="Narrow what waits on you"
          by={[
            { name: "asked", every: "Whatever is asked", options: ASKED },
            { name: "section", every: "Every section", options: page.sections },
          ]}
        />
      )}
      {groups.map(([name, belongs]) => (
        <Group
          key={name}
          name={name}
          red={name === "Late"}
          rows={mine.filter((row) => drawn.has(row) && belongs(row.dueAt)).toSorted(urgentFirst)}
          choosing={choosing}
        />
      ))}
      <p className="mt-3 flex gap-4 text-13 empty:hidden">
        {words.has("after") && <TextLink to={withoutAfter(words)}>From the beginning</TextLink>}
        {further && <TextLink to={`${withoutAfter(words)}&after=${further}`}>What waits behind these</TextLink>}
      </p>
      {page.targets.length > 0 && (
        <section aria-label="Targets at risk" className="mt-5">
          <h2 className="border-b border-ink pb-1.5">Targets at risk</h2>
          <ul className="text-13">
            {page.targets.map(({ id, name, wanted, likely }) => (
              <li key={id} className="border-b border-rule py-1.5">
                <TextLink to="/flow">{name}</TextLink>{" "}
                <span className="text-red">
                  likely {likely} of {wanted}
                </span>
              </li>
            ))}
          </ul>
        </section>
      )}
      {page.editions.length > 0 && <ToSign editions={page.editions} />}
      {said.length > 0 && <Said said={said} />}
      {others.length > 0 && (
        <Others about={[counted(others.length, "piece"), expected].filter(Boolean).join(", ")}>
          {(asking) =>
            others
              .filter((row) => drawn.has(row))
              .map((row) => (
                <TurnRow
                  key={row.id}
                  row={row}
                  asked={null}
                  choosing={choosing}
                  asking={asking === row.id}
                  nudged={answer?.about === row.id ? answer : null}
                />
              ))
          }
        </Others>
      )}
      <ChosenBar choosing={choosing} shown={ids} />
    </div>
  );
});

/** What one waits for, with the form by which it is asked where a piece is. @param children the rows, given the id of the piece that is being asked about */
function Others({ about, children }: { about: string; children: (asking: string | null) => ReactNode }) {
  const { formData } = useNavigation();
  const asking = formData?.get("intent") === NUDGE ? String(formData.get("pieceId")) : null;
  return (
    <section className="mt-5">
      <h2 className="flex gap-2 border-b border-ink pb-1.5">
        You wait for others
        <span className="font-normal text-rail">{about}</span>
      </h2>
      <ActionForm intent={NUDGE} id={NUDGE} label="Ask where a piece is" answer={null} className="contents" />
      <ul>{children(asking)}</ul>
    </section>
  );
}

/** From so many rows on there is something to narrow. */
const FEW = 7;
const ASKED = [
  { key: "decide", name: "to decide" },
  { key: "write", name: "to write" },
  { key: "see to", name: "to see to" },
];

function withoutAfter(words: URLSearchParams): string {
  const next = new URLSearchParams(words);
  next.delete("after");
  return `?${next}`;
}

/** Within what hurts alike, what is urgent comes first. */
const urgentFirst = (a: Row, b: Row) => Number(b.urgency === "urgent") - Number(a.urgency === "urgent");

type Row = TurnPage["mine"][number];

/** The editions that wait for one: to be signed once all of it is ready, or held with what stands in the way. */
function ToSign({ editions }: { editions: TurnPage["editions"] }) {
  const { now } = useClock();
  return (
    <section className="mt-5">
      <h2 className="flex gap-2 border-b border-ink pb-1.5">
        Editions <span className="font-normal text-rail">to sign off, or held</span>
      </h2>
      <ul>
        {editions.map((one) => (
          <li
            key={one.id}
            data-row
            className="flex flex-wrap justify-between gap-x-4 border-b border-rule py-1.5 focus-within:bg-wash md:-mx-6 md:px-6"
          >
            <Link to={`/editions/${one.channel}/${one.number}`} className="font-semibold hover:text-blue">
              {one.name}
            </Link>
            {one.held ? (
              <span className="text-13 text-red">
                Held since <When at={one.at} />: {one.held.join(" ")}
              </span>
            ) : (
              <span className={`text-13 ${one.at < now ? "text-red" : "text-rail"}`}>
                {one.ready} of {one.all} ready · leaves <When at={one.at} />
              </span>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

/** What was said to one and is not read yet, each leading to the very words. */
function Said({ said }: { said: TurnPage["said"] }) {
  return (
    <section className="mt-5">
      <h2 className="flex gap-2 border-b border-ink pb-1.5">
        Said to you <span className="font-normal text-rail">not read yet</span>
      </h2>
      <ul>
        {said.map((one) => (
          <li key={one.id} data-row className="border-b border-rule py-1.5 focus-within:bg-wash md:-mx-6 md:px-6">
            <p className="flex justify-between gap-4">
              <Link to={one.lead ?? "/notices"} className="min-w-0 truncate font-semibold hover:text-blue">
                {one.headline}
              </Link>
              <span className="shrink-0 text-13 text-rail">
                <When at={one.at} />
              </span>
            </p>
            {one.note && <p className="line-clamp-2 text-13 text-rail">{one.note}</p>}
          </li>
        ))}
      </ul>
    </section>
  );
}

function Group({ name, red, rows, choosing }: { name: string; red: boolean; rows: Row[]; choosing: Choosing }) {
  if (rows.length === 0) return null;
  return (
    <section className="mt-5">
      <h2 className={`border-b border-ink pb-1.5 ${red ? "text-red" : ""}`}>{name}</h2>
      <ul>
        {rows.map((row) => (
          <TurnRow key={row.id} row={row} asked={row.asked} choosing={choosing} />
        ))}
      </ul>
    </section>
  );
}

const NUMBERS = [
  "Nothing waits",
  "One piece waits",
  "Two pieces wait",
  "Three pieces wait",
  "Four pieces wait",
  "Five pieces wait",
  "Six pieces wait",
  "Seven pieces wait",
  "Eight pieces wait",
  "Nine pieces wait",
];
const heading = (count: number) => `${NUMBERS[count] ?? `${count} pieces wait`} on you`;

import { useEffect } from "react";
import { useFetcher } from "react-router";
import { ActionForm, useBusy } from "#app/ui/action-form.tsx";
import { Button, TextLink } from "#app/ui/button.tsx";
import { Aside, Progress } from "#app/ui/message.tsx";
import { Part } from "#app/ui/page.tsx";
import { Row, Rows } from "#app/ui/rows.tsx";
import { useWords } from "#app/views/lists/words.ts";
import { sendsOf } from "#app/views/people/moving.ts";
import { useCalendar, useClock } from "#app/views/time/clock.tsx";
import { openTime } from "#core/time/due.ts";
import { saySlack, workingDays } from "#core/time/slack.ts";
import { sayDate } from "#core/time/words.ts";
import { counted } from "#core/words/say.ts";
import type { loader } from "../../routes/flow-help.ts";

type Answered = Awaited<ReturnType<typeof loader>>["help"];
type Told = Exclude<NonNullable<Answered>, { problem: string }>;
type Help = NonNullable<Told["help"]>;
type Way = Help["ways"][number];

/** Asks what would help, for the line and the pieces the address says; undefined until it is known. */
export function useHelp(): Answered | undefined {
  const { load, data, state } = useFetcher<typeof loader>({ key: "flow-help" });
  const words = useWords();
  const asked = new URLSearchParams([...words].filter(([name]) => ASKS.includes(name))).toString();
  useEffect(() => {
    void load(`/flow/help?${asked}`);
  }, [load, asked]);
  return state === "loading" ? undefined : data?.help;
}

const ASKS = ["line", "weeks", "section", "kind", "author"];

/** What would help at the stop that holds the most: each way in a sentence, with what it would do to what is likely. */
export function Helps({ help }: { help: Answered | undefined }) {
  const words = useWords();
  if (help === null) return null;
  const found = help && !("problem" in help) ? help.help : null;
  return (
    <Part title="What would help" aria-label="What would help" className="mb-6">
      {help === undefined ? (
        <div className="mt-2">
          <Progress says="Foreseeing what a change would do …" />
        </div>
      ) : "problem" in help ? (
        <Aside className="mt-2">{help.problem}</Aside>
      ) : found === null ? (
        <Aside className="mt-2">Nothing waits at a stop where somebody is at work.</Aside>
      ) : found.ways.length === 0 ? (
        <Aside className="mt-2">
          {found.name} holds the most: {found.waiting}. Neither one more at work there nor another order would bring
          what waits sooner.
        </Aside>
      ) : (
        <ul>
          {found.ways.map((way) => (
            <li key={way.ease} className="border-b border-rule py-2 text-13">
              <p>
                <b className="font-semibold">{EASES[way.ease](found)}</b>: <Effect way={way} />
              </p>
              <p className="mt-1 flex flex-wrap items-center gap-x-4">
                {words.get("try") === way.ease ? (
                  <TextLink to={`?${tried(words, null)}`} preventScrollReset>
                    As it is
                  </TextLink>
                ) : (
                  <TextLink
                    to={`?${tried(words, way.ease)}`}
                    preventScrollReset
                    aria-label={`Try it: ${EASES[way.ease](found)}`}
                  >
                    Try it
                  </TextLink>
                )}
                <Doing help={found} way={way} />
              </p>
            </li>
          ))}
        </ul>
      )}
    </Part>
  );
}

const EASES: Record<Way["ease"], (help: Help) => string> = {
  place: ({ kind, name }) => (kind === "review" ? `One more to decide at ${name}` : `One more at work in ${name}`),
  order: ({ name }) => `At ${name} the first wished for first`,
  spread: ({ moves }) => `Handing ${counted(moves.length, "thing")} on to who has less`,
  settled: ({ name }) => `Remarks settled before it comes to ${name}`,
};

function tried(words: URLSearchParams, ease: Way["ease"] | null): URLSearchParams {
  const next = new URLSearchParams(words);
  if (ease === null) next.delete("try");
  else next.set("try", ease);
  return next;
}

/** What a change would do, in words. */
function Effect({ way }: { way: Way }) {
  const calendar = useCalendar();
  const days = workingDays(calendar, Math.abs(way.sooner) * 60_000);
  const late =
    way.late === way.wasLate
      ? ""
      : `${way.late || "none"} instead of ${way.wasLate} ${way.wasLate === 1 ? "is" : "are"} likely too late`;
  const sooner =
    way.sooner > 0
      ? `what passes there arrives ${days} wd sooner on average`
      : way.sooner < 0
        ? `what passes there arrives ${days} wd later on average`
        : "";
  return <>{[sooner, late].filter(Boolean).join("; ")}.</>;
}

/** Where a change can be made here, it is one press away. */
function Doing({ help, way }: { help: Help; way: Way }) {
  const busy = useBusy("even");
  if (way.ease === "order")
    return (
      <TextLink to={`/pieces?${new URLSearchParams({ line: help.line, state: help.stop, sort: "publish" })}`}>
        Show them in that order
      </TextLink>
    );
  if (way.ease === "spread")
    return (
      <ActionForm
        intent="even"
        action="/load"
        answer={null}
        sends={{ moves: JSON.stringify(help.moves.map(({ item, to }) => ({ ...sendsOf(item), personId: to }))) }}
        className="contents"
      >
        <Button look="go" busy={busy}>
          Hand them on
        </Button>
      </ActionForm>
    );
  if (way.ease === "settled" && help.settling) {
    const { count, step, to } = help.settling;
    return (
      <>
        <span className="text-rail">{count} came back that had remarks open</span>
        {to && <TextLink to={to}>Ask it of “{step}”</TextLink>}
      </>
    );
  }
  return <span className="text-rail">{counted(help.places, "person", "people")} at work there now</span>;
}

/** What came back, from which stop, and for what reasons. */
export function Returns({ help }: { help: Answered | undefined }) {
  const calendar = useCalendar();
  if (!help || "problem" in help || help.returns.length === 0) return null;
  return (
    <Part title="What comes back, and why" aria-label="What comes back, and why" className="mt-6">
      <ul>
        {help.returns.map(({ stop, name, of, kinds, notes, unsettled }) => (
          <li key={stop} className="border-b border-rule py-2 text-13">
            <b className="font-semibold">{name}</b>: {of} came back
            {kinds.length > 0 && `; remarks made there: ${kinds.map((one) => `${one.name} ${one.count}`).join(", ")}`}.
            {notes.map(({ slug, title, note }) => (
              <span key={`${slug} ${note}`} className="mt-1 block border-l-3 border-rule pl-2 text-rail">
                “{note}”{" "}
                <TextLink to={`/pieces/${slug}`} className="text-rail!">
                  {title}
                </TextLink>
              </span>
            ))}
            {unsettled && (
              <span className="mt-1 block">
                {unsettled.count} of them were sent with remarks still open: were “{unsettled.step}” to ask that they
                are settled, it would have kept these back
                {unsettled.took !== null &&
                  `, each ${workingDays(calendar, unsettled.took)} wd until it was there again`}
                .
                {unsettled.to && (
                  <>
                    {" "}
                    <TextLink to={unsettled.to}>Ask it of “{unsettled.step}”</TextLink>
                  </>
                )}
              </span>
            )}
          </li>
        ))}
      </ul>
    </Part>
  );
}

/** The forecast with a change beside the present one, what gains the most first. */
export function Tried({ help, way }: { help: Help; way: Way }) {
  const calendar = useCalendar();
  const { zone, now } = useClock();
  const day = (at: number) => sayDate(at, zone, now);
  return (
    <Part
      title={EASES[way.ease](help)}
      about={
        way.ease === "settled"
          ? "what is likely with as many returns as there were, and then"
          : `what is likely with ${counted(help.places, "person", "people")} at work there as now, and then`
      }
    >
      <Rows aria-label="With the change" className="">
        {way.pieces.map(({ id, now: as, then, publishAt }) => {
          const piece = help.pieces[id];
          if (!piece) return null;
          const wasLate = publishAt !== null && as > publishAt;
          const isLate = publishAt !== null && then > publishAt;
          return (
            <Row
              key={id}
              className="grid grid-cols-[minmax(0,1fr)] gap-x-4 py-1 text-13 md:grid-cols-[minmax(0,1fr)_290px_160px]"
            >
              <TextLink to={`/pieces/${piece.slug}`} className="truncate font-semibold text-ink! no-underline!">
                {piece.title}
              </TextLink>
              <span className="tabular-nums">
                <span className={wasLate ? "text-red" : "text-rail"}>{day(as)}</span> →{" "}
                <b className={`font-semibold ${isLate ? "text-red" : ""}`}>{day(then)}</b>
                {then < as && (
                  <span className="text-rail">, {workingDays(calendar, openTime(calendar, then, as))} wd sooner</span>
                )}
              </span>
              <span className={`md:text-right ${isLate ? "text-red" : "text-rail"}`}>
                {publishAt !== null && saySlack(calendar, openTime(calendar, then, publishAt))}
              </span>
            </Row>
          );
        })}
      </Rows>
    </Part>
  );
}

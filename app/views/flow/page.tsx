import { useMemo } from "react";
import { useNavigation } from "react-router";
import { FLOW_WEEKS } from "#app/flow-filter.ts";
import type { FormAnswer } from "#app/form-answer.ts";
import { TextLink } from "#app/ui/button.tsx";
import { Aside, Empty, Message } from "#app/ui/message.tsx";
import { Page } from "#app/ui/page.tsx";
import { Faces } from "#app/ui/tabs.tsx";
import { Narrowing } from "#app/views/lists/narrowing.tsx";
import { useWords } from "#app/views/lists/words.ts";
import { useClock } from "#app/views/time/clock.tsx";
import { sayDate } from "#core/time/words.ts";
import { counted } from "#core/words/say.ts";
import type { FlowData, Known } from "./data.ts";
import { Helps, Returns, Tried, useHelp } from "./help.tsx";
import { Sheet } from "./sheet.tsx";
import { Queues, Table, Waits } from "./stops.tsx";
import { Targets } from "./targets.tsx";
import { Weeks } from "./weeks.tsx";

const FACES = [
  ["", "ways"],
  ["stops", "stops"],
  ["weeks", "weeks"],
  ["table", "table"],
] as const;

/** How the pieces of a line travel: their ways, what its stops hold, and what is likely. */
export function FlowView({ data, answer }: { data: FlowData; answer: FormAnswer | null }) {
  const { page, wanted, choices } = data;
  const words = useWords();
  const busy = useNavigation().state === "loading";
  const help = useHelp();
  const shown = useMemo(
    () => (page === null || "problem" in page.flow ? null : ({ ...page, flow: page.flow } satisfies Known)),
    [page],
  );
  if (!page)
    return (
      <Page title="Flow">
        <Empty>There is no line yet. With a workflow in use, pieces travel, and this page shows how.</Empty>
      </Page>
    );
  const face = words.get("as") ?? "";
  const found = help && !("problem" in help) ? help.help : null;
  const tries = found?.ways.find((one) => one.ease === words.get("try"));
  const travelled = shown !== null && (shown.flow.measured.length > 0 || shown.flow.likely.length > 0);
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] lg:grid-cols-[minmax(0,1fr)_276px]" aria-busy={busy}>
      <Page
        title={`Flow of ${page.line.name}`}
        about={shown && travelled ? <Sentence page={shown} /> : undefined}
        act={<Faces words={words} faces={FACES} />}
      >
        <Narrowing
          label="Narrow the flow"
          by={[
            { name: "line", every: "The busiest line", options: page.lines },
            {
              name: "weeks",
              every: "6 weeks",
              options: FLOW_WEEKS.map((one) => ({ key: String(one), name: `${one} weeks` })),
            },
            { name: "section", every: "Every section", options: choices.sections },
            { name: "kind", every: "Every kind", options: choices.kinds },
            { name: "author", every: "Everybody", options: choices.people },
          ]}
        />
        {"problem" in page.flow && <Message>{page.flow.problem}</Message>}
        {shown && !travelled && (
          <Empty act={<TextLink to={`?line=${page.line.key}&weeks=52`}>Look at a year</TextLink>}>
            Nothing you may see has travelled on this line in these {wanted.weeks} weeks.
          </Empty>
        )}
        {shown && travelled && (
          <>
            {found && tries && <Tried help={found} way={tries} />}
            {face === "table" ? (
              <Table page={shown} />
            ) : face === "weeks" ? (
              <Weeks page={shown} />
            ) : face === "stops" ? (
              <Queues page={shown} />
            ) : (
              <Sheet page={shown} />
            )}
            <Aside className="mt-3">
              Counted are the pieces you may see, by the working hours of the publication.
              {page.cut && " Of more stays than are looked at, these are the latest."}
            </Aside>
          </>
        )}
      </Page>
      <aside className="border-rule px-4 py-5 lg:border-l" aria-label="Targets, and where it waits">
        <Targets data={data} answer={answer} />
        {shown && travelled && <Helps help={help} />}
        {shown && travelled && <Waits page={shown} />}
        {shown && travelled && <Returns help={help} />}
      </aside>
    </div>
  );
}

/** What the flow amounts to: where the most wait, who of them for too long, and where more will. */
function Sentence({ page: { flow, stops } }: { page: Known }) {
  const { zone, now } = useClock();
  const holds = (key: string) => flow.there[key]?.all ?? 0;
  const [stop] = stops.slice(0, -1).sort((a, b) => holds(b.key) - holds(a.key));
  if (!stop || holds(stop.key) === 0) return <>Nothing is on its way here now.</>;
  const over = flow.there[stop.key]?.over ?? 0;
  const { all: dated, late } = flow.dated;
  const jam = flow.jam && stops.find((one) => one.key === flow.jam?.state);
  return (
    <>
      <b className="font-semibold text-ink">
        {stop.name} holds {holds(stop.key)}
      </b>
      {over > 0 && <span className="text-red">, {over} of them for longer than it has time</span>}
      {jam && flow.jam && (
        <>
          ; by {sayDate(flow.jam.at, zone, now)} {jam.key === stop.key ? "it" : jam.name} is likely to hold{" "}
          {flow.jam.holds}
        </>
      )}
      .{" "}
      {dated > 0 &&
        (late === 0
          ? `All ${dated} with a date are likely in time.`
          : `Of ${counted(dated, "piece")} with a date ${late} ${late === 1 ? "is" : "are"} likely too late.`)}
    </>
  );
}

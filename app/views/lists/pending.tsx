import type { ReactNode } from "react";
import { Link } from "react-router";
import { TextLink } from "#app/ui/button.tsx";
import { Aside, Empty } from "#app/ui/message.tsx";
import { Page, Part } from "#app/ui/page.tsx";
import { Row, Rows } from "#app/ui/rows.tsx";
import { Due, useClock, When } from "#app/views/time/clock.tsx";
import { sayLength } from "#core/time/words.ts";
import { counted, list } from "#core/words/say.ts";
import type { Route } from "../../routes/+types/pending.ts";
import { Narrowing } from "./narrowing.tsx";

type Data = Route.ComponentProps["loaderData"];

/** Everything that waits anywhere: on whom, since when, until when; what is stuck, what is held, what happened last. */
export function PendingView({ page }: { page: Data }) {
  const { now } = useClock();
  const { waiting, more, stuck, held, heldEditions, recent } = page;
  const late = waiting.filter((one) => one.dueAt !== null && one.dueAt < now).length;
  const narrowed = Object.values(page.wanted).some(Boolean);
  return (
    <Page
      title="Waiting"
      about={
        waiting.length === 0
          ? "Nothing waits on anybody here."
          : `${more ? "More than " : ""}${counted(waiting.length, "thing")} ${waiting.length === 1 && !more ? "waits" : "wait"} on somebody; ${late === 0 ? "none is late" : late === 1 ? "one is late" : `${late} are late`}.`
      }
    >
      <Narrowing
        label="Narrow what waits"
        by={[
          { name: "section", every: "Every section", options: page.choices.sections },
          { name: "workflow", every: "Every workflow", options: page.choices.workflows },
          { name: "person", every: "Everybody", options: page.choices.people },
        ]}
      />
      {stuck.length > 0 && (
        <Part title="Stuck" about={counted(stuck.length, "review")}>
          <Rows className="">
            {stuck.map((one) => (
              <Line
                key={one.pieceId}
                to={`/pieces/${one.slug}?do=pass`}
                title={one.title}
                about={`${one.state} · ${one.section}`}
              >
                <span className="text-red">{one.why}</span>
              </Line>
            ))}
          </Rows>
        </Part>
      )}
      {held.length + heldEditions.length > 0 && (
        <Part
          title="Held"
          about={list([
            ...(heldEditions.length > 0 ? [counted(heldEditions.length, "edition")] : []),
            ...(held.length > 0 ? [counted(held.length, "release")] : []),
          ])}
        >
          <Rows className="">
            {heldEditions.map((one) => (
              <Line key={one.id} to={`/editions/${one.channel}/${one.number}`} title={one.name} about="An edition">
                <Held {...one} />
              </Line>
            ))}
            {held.map((one) => (
              <Line key={one.pieceId} to={`/pieces/${one.slug}`} title={one.title} about={one.section}>
                <Held {...one} />
              </Line>
            ))}
          </Rows>
        </Part>
      )}
      <Part title="Assigned to" {...(waiting.length > 0 && { about: "the first due first" })}>
        {waiting.length === 0 ? (
          <Empty act={narrowed && <TextLink to="/pending">Show everything</TextLink>}>
            {narrowed ? "Nothing fits these words." : "Everything has left, or is being written."}
          </Empty>
        ) : (
          <Rows className="">
            {waiting.map((one) => (
              <Row
                key={`${one.pieceId} ${one.person} ${one.asked}`}
                className="grid grid-cols-[minmax(0,1fr)_auto] items-center gap-x-4 py-1 text-13 md:grid-cols-[minmax(0,300px)_minmax(0,200px)_minmax(0,1fr)_148px]"
              >
                <span className="min-w-0">
                  <Link to={`/pieces/${one.slug}`} className="block truncate text-15 font-semibold hover:text-blue">
                    {one.title}
                  </Link>
                  <span className="block truncate text-rail">
                    {[one.urgency === "urgent" && "urgent", one.state, one.section].filter(Boolean).join(" · ")}
                  </span>
                </span>
                <span className="min-w-0 max-md:col-start-1 max-md:row-start-2">
                  <b className="block truncate font-semibold">{one.person}</b>
                  {one.for && <span className="block truncate text-rail">for {one.for}</span>}
                </span>
                <span className="text-rail max-md:hidden">
                  {one.asked === "decide" ? "to decide" : "to see to"}, for {sayLength(now - one.since)}
                </span>
                <span className="max-md:row-span-2 max-md:row-start-1 max-md:text-right">
                  <Due at={one.dueAt} />
                </span>
              </Row>
            ))}
          </Rows>
        )}
        {more && <Aside className="mt-2">More wait behind these. Narrow the list to see them.</Aside>}
      </Part>
      <Part title="Lately">
        {recent.length === 0 && <Aside className="mt-1">Nothing happened here yet.</Aside>}
        <Rows className="">
          {recent.map((one) => (
            <Row key={one.seq} className="flex flex-wrap justify-between gap-x-4 py-1 text-13">
              <span className="min-w-0">
                <b className="font-semibold">{one.who ?? "Elenco"}</b> {one.words}:{" "}
                <Link to={`/pieces/${one.slug}`} className="hover:text-blue">
                  {one.title}
                </Link>
              </span>
              <span className="text-rail">
                <When at={one.at} />
              </span>
            </Row>
          ))}
        </Rows>
        <p className="mt-2 text-13">
          <TextLink to="/lately">All that happened since you were last here</TextLink>
        </p>
      </Part>
    </Page>
  );
}

const Held = ({ will, at, why }: { will: boolean; at: number; why: readonly string[] }) => (
  <span className="text-red">
    {will ? "Will be held" : "Held"} · <When at={at} />: {why.join(" ")}
  </span>
);

const Line = ({ to, title, about, children }: { to: string; title: string; about: string; children: ReactNode }) => (
  <Row className="grid gap-x-4 py-1.5 text-13 md:grid-cols-[minmax(0,300px)_minmax(0,1fr)]">
    <span className="min-w-0">
      <Link to={to} className="block truncate text-15 font-semibold hover:text-blue">
        {title}
      </Link>
      <span className="block truncate text-rail">{about}</span>
    </span>
    <span className="break-words">{children}</span>
  </Row>
);

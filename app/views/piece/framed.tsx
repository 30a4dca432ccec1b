import { createContext, type ReactNode, useContext } from "react";
import { useLocation, useRevalidator } from "react-router";
import type { FormAnswer } from "#app/form-answer.ts";
import { ActionForm } from "#app/ui/action-form.tsx";
import { Button, TextLink } from "#app/ui/button.tsx";
import { Checkbox, FieldSet, Radio } from "#app/ui/field.tsx";
import { PanelHead } from "#app/ui/page.tsx";
import type { Clock } from "#app/views/time/clock.tsx";
import type { Refusal } from "#core/refusal.ts";
import { sayDate } from "#core/time/words.ts";
import type { Choice, Choosing } from "#server/pieces/offers.ts";
import type { PiecePage } from "./page.ts";

/** What every panel beside a text is given. */
export interface PanelProps {
  page: PiecePage;
  /** Whether words are still on their way to the server. */
  saving: boolean;
  answer: FormAnswer | null | undefined;
}

/** A panel that is one form: its head, what was refused, and its fields. */
export function Framed({
  title,
  intent,
  page,
  answer,
  children,
}: Omit<PanelProps, "saving"> & { title: string; intent: string; children: ReactNode }) {
  return (
    <Panelled title={title}>
      <PieceForm intent={intent} page={page} answer={answer}>
        {children}
      </PieceForm>
    </Panelled>
  );
}

/** Where whoever leaves a panel goes, where that is not the page of the piece. */
export const PanelLeave = createContext<string | null>(null);

/** A panel beside the text, or beside a list, with the way back. */
export function Panelled({ title, children }: { title: string; children: ReactNode }) {
  const { pathname } = useLocation();
  const leave = useContext(PanelLeave) ?? pathname;
  return (
    <section aria-label={title} className="-mx-4 -mt-4 border-b border-ink bg-paper px-4 py-4">
      <PanelHead title={title} leave={leave} />
      {children}
    </section>
  );
}

/** One form of the page, with the revision it saw and what was refused of it. */
export function PieceForm({
  intent,
  page,
  answer,
  sends,
  children,
}: Omit<PanelProps, "saving"> & {
  intent: string;
  sends?: Readonly<Record<string, string>>;
  children: ReactNode;
}) {
  const refusal = answer?.intent === intent ? answer.refusal : null;
  return (
    <ActionForm
      intent={intent}
      answer={answer}
      sends={{ ...carried(page), revision: page.row.revision, ...sends }}
      mend={refusal?.code === "stale" && <Anew slug={page.row.slug} changed={refusal.changed} />}
    >
      {children}
    </ActionForm>
  );
}

/** What every form of the page carries. */
export const carried = ({ row, formKey }: { row: { id: string }; formKey?: string }) => ({ pieceId: row.id, formKey });

/** Shows what changed meanwhile, and the page as it is now, without a word lost of what was typed. */
function Anew({ slug, changed }: { slug: string; changed: Refusal["changed"] }) {
  const { revalidate } = useRevalidator();
  return (
    <p className="flex flex-wrap gap-x-4 text-13">
      {changed && (
        <a
          href={`/pieces/${slug}/versions?from=${changed.from}&to=${changed.to}`}
          target="_blank"
          rel="noreferrer"
          className="text-blue underline"
        >
          What changed (another window)
        </a>
      )}
      <Button look="word" type="button" onClick={() => void revalidate()}>
        Show it as it is now
      </Button>
    </p>
  );
}

/** How much waits on somebody, when the first of it is due, and whether they go away soon, in a few words. */
export function sayLoad({ load, away, due, awayFrom, standIn }: Choice, { zone, now }: Clock): string {
  const waits = load === 0 ? "free" : `${load} waiting`;
  const first = due === null || load === 0 ? "" : `${load === 1 ? "due" : "the first due"} ${sayDate(due, zone, now)}`;
  const leaves = awayFrom && !away ? `away from ${sayDate(Date.parse(awayFrom), "UTC", now)}` : "";
  const covered = (away || leaves) && (standIn ? `${standIn} stands in` : "nobody stands in");
  return [waits, first, away && "away", leaves, covered].filter(Boolean).join(", ");
}

/** Whom the sender picks for the next review, the first as many marked who are at work. */
export function Reviewers({ choose, clock }: { choose: Choosing; clock: Clock }) {
  const alone = choose.number === 1;
  const Mark = alone ? Radio : Checkbox;
  return (
    <FieldSet legend={alone ? "Who reviews it" : `Choose ${choose.number} to review it`}>
      {choose.people.map((person, i) => (
        <div key={person.id} className="flex flex-wrap items-center gap-x-2 pl-6 text-13">
          <Mark
            className="-ml-6"
            name="reviewers[]"
            value={person.id}
            defaultChecked={i < choose.number && !person.away}
            aria-describedby={`waits-${person.id}`}
          >
            {person.name}
          </Mark>
          <span id={`waits-${person.id}`} className="text-rail">
            {sayLoad(person, clock)}
          </span>
        </div>
      ))}
      {choose.lacking && (
        <p className="text-13 text-red">
          Nobody here is {choose.lacking.asks.join(" or ")}, whom this review asks.
          {choose.lacking.who.length > 0 && ` ${choose.lacking.who.join(" or ")} could give somebody that role.`}
        </p>
      )}
    </FieldSet>
  );
}

/** The way to what changed since one decided, where the text went on. @param keys the key that leads there */
export function Since({ page, keys }: { page: PiecePage; keys?: string }) {
  if (page.decidedOn === null) return null;
  return (
    <>
      You decided on version {page.decidedOn}.{" "}
      <TextLink
        to={`/pieces/${page.row.slug}/versions?from=${page.decidedOn}&to=${page.version.number}`}
        title={keys}
        data-key={keys}
      >
        What changed since
      </TextLink>
    </>
  );
}

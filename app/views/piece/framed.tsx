import type { ReactNode } from "react";
import { Form, Link, useNavigation } from "react-router";
import type { FormAnswer } from "#app/form-answer.ts";
import { PanelHead } from "#app/ui/beside.tsx";
import { Message } from "#app/ui/message.tsx";
import { list } from "#core/words/say.ts";
import type { Choosing } from "#server/pieces/offers.ts";
import type { PiecePage } from "./page.ts";
import { Shared } from "./shared.tsx";

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
    <Panelled title={title} page={page}>
      <PieceForm intent={intent} page={page} answer={answer}>
        {children}
      </PieceForm>
    </Panelled>
  );
}

/** A panel beside the text, with the way back. */
export function Panelled({ title, page, children }: Pick<PanelProps, "page"> & { title: string; children: ReactNode }) {
  return (
    <section aria-label={title} className="-mx-4 -mt-4 border-b border-ink bg-paper px-4 py-4">
      <PanelHead title={title} leave={`/pieces/${page.row.slug}`} />
      {children}
    </section>
  );
}

/** One form of the page, with the revision it saw and what was refused of it. */
export function PieceForm({
  intent,
  page,
  answer,
  children,
  only = () => true,
}: Omit<PanelProps, "saving"> & { intent: string; children: ReactNode; only?(answer: FormAnswer): boolean }) {
  const refusal = answer?.intent === intent && only(answer) ? answer.refusal : null;
  return (
    <Form method="post" className="space-y-3" preventScrollReset>
      <Shared page={page} intent={intent} />
      <input type="hidden" name="revision" value={page.row.revision} />
      {refusal && (
        <Message
          more={[...(refusal.missing ?? []), ...(refusal.who?.length ? [`Open to: ${list(refusal.who)}.`] : [])]}
        >
          {refusal.sentence}
          {refusal.code === "stale" && (
            <>
              {" "}
              <Link to="" reloadDocument className="text-blue underline">
                Show it as it is now
              </Link>
            </>
          )}
        </Message>
      )}
      {children}
    </Form>
  );
}

/** Whether a form is on its way. */
export const useBusy = () => useNavigation().state !== "idle";

/** How much waits on somebody, in a few words. */
export const sayLoad = ({ load, away }: { load: number; away: boolean }) =>
  [load === 0 ? "free" : `${load} waiting`, away && "away"].filter(Boolean).join(", ");

/** Whom the sender picks for the next review, the first as many marked who are at work. */
export function Reviewers({ choose }: { choose: Choosing }) {
  const alone = choose.number === 1;
  return (
    <fieldset>
      <legend className="mb-1 text-13 font-semibold">
        {alone ? "Who reviews it" : `Choose ${choose.number} to review it`}
      </legend>
      {choose.people.map((person, i) => (
        <label key={person.id} className="flex items-baseline gap-2 py-0.5 text-13">
          <input
            type={alone ? "radio" : "checkbox"}
            name="reviewers[]"
            value={person.id}
            defaultChecked={i < choose.number && !person.away}
            className="accent-blue"
          />
          {person.name}
          <span className="text-rail">{sayLoad(person)}</span>
        </label>
      ))}
      {choose.people.length === 0 && <p className="text-13 text-red">Nobody may review it just now.</p>}
    </fieldset>
  );
}

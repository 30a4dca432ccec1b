import { useState } from "react";
import type { FormAnswer } from "#app/form-answer.ts";
import { ActionForm, useBusy } from "#app/ui/action-form.tsx";
import { Button } from "#app/ui/button.tsx";
import { MomentField } from "#app/ui/date-field.tsx";
import { Checkbox, Input, TextField } from "#app/ui/field.tsx";
import { PanelHead } from "#app/ui/page.tsx";
import { Refused } from "#app/views/people/refused.tsx";
import { useClock, When } from "#app/views/time/clock.tsx";
import { toLocalInput } from "#core/time/local.ts";
import { carried } from "./framed.tsx";
import type { PiecePage } from "./page.ts";

const WEEK = 7 * 86_400_000;

/** An answer that brings a guest's link, shown this once. */
export type Invited = FormAnswer & { link: string };

/** Beside the text: who from outside sees this piece, and letting somebody in. */
export function Guests({ page, answer }: { page: PiecePage; answer: FormAnswer | Invited | null | undefined }) {
  const busy = useBusy();
  const { zone, now } = useClock();
  const link = answer && "link" in answer ? answer.link : null;
  return (
    <section aria-label="Guests" className="-mx-4 -mt-4 space-y-4 border-b border-ink bg-paper px-4 py-4 text-13">
      <PanelHead title="Guests" leave={`/pieces/${page.row.slug}`} />
      {link && <TheLink link={link} />}
      {page.guests.length === 0 && !link && <p className="text-rail">Nobody from outside sees this piece.</p>}
      <ul className={page.guests.length ? "border-t border-rule" : ""}>
        {page.guests.map((one) => (
          <li key={one.id} className="flex items-center justify-between gap-3 border-b border-rule py-1.5">
            <span className="min-w-0 break-words">
              <b className="font-semibold">{one.name}</b>
              <span className="block text-rail">
                {one.decides ? "decides" : "reads and comments"}, until <When at={one.until} />
                {!one.opened && "; not opened yet"}
              </span>
            </span>
            <ActionForm intent="revoke-guest" answer={null} sends={carried(page)} className="">
              <Button
                look="quiet"
                name="guestId"
                value={one.id}
                busy={busy}
                aria-label={`Take back ${one.name}’s link`}
              >
                Take back
              </Button>
            </ActionForm>
          </li>
        ))}
      </ul>
      <Refused answer={answer} intent="revoke-guest" />
      <ActionForm intent="invite-guest" answer={answer} sends={carried(page)} empties>
        <TextField label="Whom you let in" name="label" maxLength={100} required />
        <MomentField label="Until" name="until" defaultValue={toLocalInput(now + WEEK, zone)} required />
        {page.round && (
          <Checkbox name="decides" value="true">
            With a seat in the review that is open
          </Checkbox>
        )}
        <Button look="go" busy={busy}>
          {busy ? "One moment …" : "Make a link"}
        </Button>
      </ActionForm>
    </section>
  );
}

function TheLink({ link }: { link: string }) {
  const [copied, setCopied] = useState(false);
  return (
    <div role="status" className="border-l-3 border-yellow pl-3">
      <p>Send this link; it is not shown again. It opens this piece and nothing else.</p>
      <Input
        look="small"
        readOnly
        aria-label="The guest’s link"
        value={link}
        onFocus={(event) => event.currentTarget.select()}
        className="my-1.5 w-full"
      />
      <Button
        type="button"
        onClick={() =>
          navigator.clipboard.writeText(link).then(
            () => setCopied(true),
            () => undefined,
          )
        }
      >
        {copied ? "Copied" : "Copy it"}
      </Button>
    </div>
  );
}

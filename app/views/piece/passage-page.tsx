import { Button, TextLink } from "#app/ui/button.tsx";
import { Fold } from "#app/ui/fold.tsx";
import { Page } from "#app/ui/page.tsx";
import { When } from "#app/views/time/clock.tsx";
import { sayRule } from "#core/review/round.ts";
import { sayLength } from "#core/time/words.ts";
import { counted } from "#core/words/say.ts";
import type { Passage, Stopped } from "#server/pieces/passage.ts";
import type { RoundTold } from "#server/review/history.ts";

/** A piece's passage, stop by stop: how long it was where, who held it, and what each of them said. */
export function PassageView({ passage }: { passage: Passage }) {
  const { slug, title, steps } = passage;
  const file = `/pieces/${slug}/passage/file`;
  return (
    <Page
      title={`The passage of “${title}”`}
      about={`${counted(steps.length, "stop")} since it began.`}
      wide={false}
      back={{ to: `/pieces/${slug}`, name: title, here: "Passage" }}
      act={
        <p className="flex gap-4 text-13 no-print">
          <a href={`${file}?as=csv`} className="font-semibold text-blue">
            CSV
          </a>
          <a href={`${file}?as=json`} className="font-semibold text-blue">
            JSON
          </a>
          <Button type="button" look="word" onClick={() => window.print()}>
            Print
          </Button>
        </p>
      }
    >
      <ol className="mt-5">
        {steps.map((step) => (
          <Step key={`${step.state} ${step.arrivedAt}`} slug={slug} step={step} />
        ))}
      </ol>
    </Page>
  );
}

function Step({ slug, step }: { slug: string; step: Stopped }) {
  return (
    <li className="grid gap-x-6 border-t border-rule py-3 text-13 sm:grid-cols-[150px_minmax(0,1fr)]">
      <div>
        <p className="text-15 font-semibold">{step.name}</p>
        <p className="text-rail">{step.leftAt === null ? "there now" : sayLength(step.leftAt - step.arrivedAt)}</p>
      </div>
      <div className="min-w-0">
        <p>
          <When at={step.arrivedAt} />
          {step.step && (
            <>
              {" · "}“{step.step}”{step.by && `, ${step.by}`}
            </>
          )}
        </p>
        {step.note && <p className="break-words border-l-3 border-rule pl-2">{step.note}</p>}
        {step.rounds.map((round) => (
          <Round key={round.id} slug={slug} round={round} />
        ))}
        {step.told.length > 0 && (
          <Fold summary={`${counted(step.told.length, "entry", "entries")} of the record`} className="mt-1">
            <ol className="mt-1 space-y-1">
              {step.told.map((one, i) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: the record is only ever added to
                <li key={i}>
                  <b className="font-semibold">{one.who ?? "Elenco"}</b>
                  {one.for && ` for ${one.for}`} {one.words}
                  {one.note && `: “${one.note}”`}{" "}
                  <span className="text-12 text-rail">
                    <When at={one.at} />
                  </span>
                </li>
              ))}
            </ol>
          </Fold>
        )}
      </div>
    </li>
  );
}

const VERDICTS = { approve: "approved", return: "returned", decline: "declined", abstain: "abstained" };
const ENDS = {
  passed: "passed",
  returned: "came back",
  declined: "declined",
  overridden: "closed past its rule",
  withdrawn: "ended: the piece left",
};

/** One review of the piece: by which rule, who was asked, what each said of which version. */
function Round({ slug, round }: { slug: string; round: RoundTold }) {
  const { number, seats, decisions, outcome, closedAt, openedAt, dueAt } = round;
  return (
    <section aria-label={`Round ${number}`} className="mt-2 border-l-3 border-track pl-3">
      <p>
        <b className="font-semibold">Round {number}</b>: {sayRule(round)}.{" "}
        {closedAt === null ? (
          dueAt !== null && (
            <>
              Due <When at={dueAt} />.
            </>
          )
        ) : (
          <>
            It {outcome ? ENDS[outcome] : "ended"} after {sayLength(closedAt - openedAt)}.
          </>
        )}
      </p>
      <ul>
        {seats.map((seat) => {
          const said = decisions.filter(({ seatId }) => seatId === seat.id);
          return (
            <li key={seat.id}>
              <b className="font-semibold">{seat.person}</b>
              {seat.for && ` for ${seat.for}`}{" "}
              {said.length === 0 && (
                <span className="text-rail">{seat.status === "void" ? "did not count" : "said nothing"}</span>
              )}
              {said.map((one) => (
                <span key={one.at} className="block pl-3">
                  {VERDICTS[one.verdict]} version {one.version}, <When at={one.at} />
                  {one.person !== seat.person && `, ${one.person}`}
                  {one.note && `: “${one.note}”`}
                  {one.signature && `; signed “${one.signature}”${one.withdrawnAt ? ", withdrawn" : ""}`}
                </span>
              ))}
            </li>
          );
        })}
      </ul>
      {decisions.some((one) => one.signature) && (
        <TextLink to={`/pieces/${slug}/signed?round=${number}`}>The signed page</TextLink>
      )}
    </section>
  );
}

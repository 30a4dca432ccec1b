import { useSearchParams } from "react-router";
import type { FormAnswer } from "#app/form-answer.ts";
import { ActionForm, useBusy } from "#app/ui/action-form.tsx";
import { Button, ButtonLink, TextLink } from "#app/ui/button.tsx";
import { Hidden } from "#app/ui/field.tsx";
import { useFocusAfter } from "#app/ui/focus-after.ts";
import { Hint, Message } from "#app/ui/message.tsx";
import { Back } from "#app/ui/page.tsx";
import { When } from "#app/views/time/clock.tsx";
import { sayRhythm } from "#core/release/rhythm.ts";
import { list } from "#core/words/say.ts";
import { Beside } from "./beside.tsx";
import type { Corrected, EditionData, EditionProps } from "./data.ts";
import { LengthBar } from "./length.tsx";
import { useOrdering } from "./ordering.ts";
import { EditionPanel } from "./panels.tsx";
import { Parts } from "./parts.tsx";
import { WentOut } from "./went-out.tsx";
import { sayStanding } from "./words.ts";

/** One edition: what is in it and in which order, how it stands, who signs it, and what is handed over. */
export function EditionView({ corrected, ...props }: EditionProps & { corrected: Corrected }) {
  const { page, answer } = props;
  const [words] = useSearchParams();
  const doing = words.get("do");
  const ordering = useOrdering(page);
  const contents = page.contents && { ...page.contents, items: [...ordering.items] };
  const refused = ordering.refused ?? saidHere(answer, doing);
  useFocusAfter(() => document.querySelector<HTMLElement>("main h1"));
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] lg:grid-cols-[minmax(0,1fr)_316px]">
      <div className="min-w-0 px-4 py-5 md:px-6">
        <Back to="/editions" name="Editions" />
        <Head {...props} />
        {refused && (
          <div className="mt-3">
            <Message more={answer?.refusal?.who?.length ? [`Open to: ${list(answer.refusal.who)}.`] : []}>
              {refused}
            </Message>
          </div>
        )}
        {doing && <EditionPanel doing={doing} {...props} />}
        {contents && (
          <>
            <Situation page={{ ...page, contents }} />
            <LengthBar items={contents.items} checks={contents.checks} />
            <Parts {...props} items={contents.items} move={ordering.move} />
            {contents.hidden > 0 && (
              <p className="mt-3 text-13 text-rail">
                {contents.hidden === 1 ? "One piece in it is" : `${contents.hidden} pieces in it are`} not yours to see.
              </p>
            )}
          </>
        )}
        {page.out && <WentOut page={page} out={page.out} corrected={corrected} />}
      </div>
      <Beside {...props} />
    </div>
  );
}

/** The intents of the panels, by their names in the address: each says itself what is refused of it. */
const PANELS: Record<string, string> = { add: "fill", date: "date", drop: "drop", reopen: "reopen" };

/** What was refused, where no panel that stands open says it. */
const saidHere = (answer: FormAnswer | null, doing: string | null): string | null =>
  answer === null || PANELS[doing ?? ""] === answer.intent
    ? null
    : (answer.refusal?.sentence ?? Object.values(answer.fields)[0] ?? null);

function Head({ page, answer, formKey }: EditionProps) {
  const { channel, id, revision } = page;
  const busy = useBusy("sign");
  const releasing = useBusy("release");
  const isReady = page.contents !== null && page.contents.items.length > 0 && page.contents.checks.missing.length === 0;
  const underWay = page.status !== "released";
  const ready = page.coming.filter((one) => one.ready);
  return (
    <>
      <p className="mt-2 flex flex-wrap gap-x-4 text-13 text-rail">
        <span>
          {channel.name}
          {channel.rhythm && ` · ${sayRhythm(channel.rhythm)}`}
        </span>
        {page.before !== null && <TextLink to={`/editions/${channel.key}/${page.before}`}>Previous edition</TextLink>}
        {page.after !== null && <TextLink to={`/editions/${channel.key}/${page.after}`}>Next edition</TextLink>}
      </p>
      <div className="flex flex-wrap items-center gap-x-3 gap-y-2">
        <h1 tabIndex={-1} className="wrap-anywhere">
          {page.name}
        </h1>
        <p className="mr-auto text-13 text-rail">
          {page.status === "held" ? (
            <span className="font-semibold text-red">
              held since <When at={page.at} />
            </span>
          ) : underWay ? (
            <>
              leaves <When at={page.at} /> · closes <When at={page.closesAt} />
            </>
          ) : (
            <>
              left <When at={page.releasedAt ?? page.at} />
            </>
          )}
        </p>
        {underWay && page.sees && !page.locked && (
          <AddReady page={page} answer={answer} formKey={formKey} pieces={ready.map((one) => one.id)} />
        )}
        {page.signsNow && (
          <ActionForm intent="sign" answer={null} sends={{ editionId: id, revision, formKey }} className="contents">
            <Button
              look={isReady ? "go" : "plain"}
              busy={busy}
              disabled={!isReady}
              title={isReady ? undefined : "Once everything in it is ready."}
            >
              Sign off{page.signsFor.length > 0 && ` for ${list(page.signsFor)}`}
            </Button>
          </ActionForm>
        )}
        {page.releases && (
          <ActionForm intent="release" answer={null} sends={{ editionId: id, revision, formKey }} className="contents">
            <Button busy={releasing}>Release it now</Button>
          </ActionForm>
        )}
      </div>
      {underWay && (page.sees || page.signers.length > 0) && (
        <p className="mt-1 flex flex-wrap gap-x-1">
          {page.sees && (
            <>
              <ButtonLink look="quiet" to="?do=date" preventScrollReset className="-ml-3">
                Move its date
              </ButtonLink>
              {!page.locked && (
                <ButtonLink look="quiet" to="?do=add" preventScrollReset>
                  Choose what comes in
                </ButtonLink>
              )}
              <ButtonLink look="quiet" to="?do=drop" preventScrollReset>
                Drop it
              </ButtonLink>
            </>
          )}
          {page.reopens && (
            <ButtonLink look="quiet" to="?do=reopen" preventScrollReset>
              Open it again
            </ButtonLink>
          )}
        </p>
      )}
    </>
  );
}

/** Everything that belongs in and is ready, at once; once it closed, each with a reason. */
function AddReady({ page, formKey, pieces }: EditionProps & { pieces: readonly string[] }) {
  const busy = useBusy("fill");
  if (pieces.length === 0) return null;
  const label = pieces.length === 1 ? "Add what is ready: one" : `Add what is ready: ${pieces.length}`;
  if (page.closed) return <ButtonLink to="?do=add">{label}</ButtonLink>;
  return (
    <ActionForm intent="fill" answer={null} sends={{ editionId: page.id, formKey }} className="contents">
      {pieces.map((id) => (
        <Hidden key={id} name="pieces[]" value={id} />
      ))}
      <Button busy={busy}>{label}</Button>
    </ActionForm>
  );
}

function Situation({ page }: { page: EditionData & { contents: NonNullable<EditionData["contents"]> } }) {
  const { contents } = page;
  const { ready, late, rest } = sayStanding(contents.checks, contents.items);
  return (
    <div className="mt-3 space-y-2">
      <p role="status">
        <b className="font-semibold">{ready}</b>{" "}
        {late && (
          <a href={`#piece-${contents.checks.late[0]}`} className="text-red underline underline-offset-3">
            {late}
          </a>
        )}
        {rest}
        {page.status !== "released" && contents.items.length > contents.checks.ready.length && (
          <>
            {" "}
            Likely in time: {contents.likely} of {contents.items.length}.
          </>
        )}
      </p>
      {page.holds.length > 0 && <Message more={page.holds.slice(1)}>{page.holds[0]}</Message>}
      {page.locked && page.status !== "released" && <Hint>{page.locked}</Hint>}
    </div>
  );
}

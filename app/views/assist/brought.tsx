import type { FormAnswer } from "#app/form-answer.ts";
import { ActionForm, useBusy } from "#app/ui/action-form.tsx";
import { Button, TextLink } from "#app/ui/button.tsx";
import { TextField } from "#app/ui/field.tsx";
import { Fold } from "#app/ui/fold.tsx";
import { Aside, Hint, Message, Progress, Status } from "#app/ui/message.tsx";
import { NamedField } from "#app/ui/select.tsx";
import { Compared } from "#app/views/text/changed.tsx";
import { useComparison } from "#app/views/text/comparison.ts";
import { When } from "#app/views/time/clock.tsx";
import { ERRANDS } from "#core/assist/errand.ts";
import { wordsChanged } from "#core/text/compare.ts";
import type { AssistData } from "./data.ts";

type Chosen = NonNullable<AssistData["chosen"]>;

interface Props {
  page: AssistData;
  chosen: Chosen;
  answer: FormAnswer | null;
}

/** One thing an assistant was sent for, and what came of it. */
export function Brought(props: Props) {
  const { chosen } = props;
  const { name, standing, by, at, cost, endedBy, endedAt, brought } = chosen;
  return (
    <section aria-label="What was brought">
      <h2 id="brought" tabIndex={-1} className="text-19! font-bold">
        {ERRANDS[chosen.errand].name} by {name}
      </h2>
      <p className="mt-1 text-13 text-rail">
        Asked for by {by}, <When at={at} />
        {cost && ` · it says it cost ${cost}`}
        {endedBy && endedAt !== null && (
          <>
            {" "}
            · {standing} by {endedBy}, <When at={endedAt} />
          </>
        )}
      </p>
      {standing === "waiting" && (
        <div className="mt-4 max-w-100">
          <Progress says={`${name} is at it. You are told when it is back; you can leave this page.`} />
          {chosen.problem && <Aside className="mt-1">{chosen.problem} It is asked again.</Aside>}
        </div>
      )}
      {standing === "failed" && (
        <div className="mt-4">
          <Message>
            {chosen.problem}{" "}
            <span className="font-normal text-ink">Nothing in the piece changed; it can be asked again.</span>
          </Message>
        </div>
      )}
      {brought && (
        <>
          <Reasons brought={brought} />
          {standing === "brought" && <Deciding {...props} />}
          <What {...props} brought={brought} />
        </>
      )}
      <Fold summary="What it was sent" className="mt-6">
        <p className="max-h-80 overflow-y-auto whitespace-pre-wrap break-all border-l-3 border-rule pl-3 text-12">
          {chosen.body}
        </p>
      </Fold>
    </section>
  );
}

type Found = NonNullable<Chosen["brought"]>;

const Reasons = ({ brought: { reasons, leftOut } }: { brought: Found }) => (
  <ul className="mt-3 list-disc space-y-0.5 pl-5 text-13">
    {reasons.map((one) => (
      <li key={one} className="break-words">
        “{one}”
      </li>
    ))}
    {leftOut.map((one) => (
      <li key={one} className="break-words text-rail">
        {one}
      </li>
    ))}
  </ul>
);

/** Taking it, or leaving it. */
function Deciding({ page, chosen, answer }: Props) {
  const [takes, leaves] = [useBusy("take"), useBusy("leave")];
  const { piece, closed, lines, formKey } = page;
  // Why not is said where one asks.
  if (closed) return null;
  const sends = { pieceId: piece.id, errandId: chosen.id, formKey };
  const { brings } = ERRANDS[chosen.errand];
  const takable = brings === "text" || (brings === "words" && lines.length > 0);
  return (
    <div className="mt-4 flex flex-wrap items-end gap-x-6 gap-y-3 border-y border-rule bg-paper px-3 py-3">
      {takable && (
        <ActionForm
          intent="take"
          answer={answer}
          sends={{ ...sends, base: piece.hash }}
          className="flex flex-wrap items-end gap-3"
        >
          {brings === "words" && <NamedField label="Into" name="field" none="choose a field" options={lines} />}
          <Button look="go" busy={takes}>
            {brings === "text" ? "Take it as the text" : "Take them"}
          </Button>
        </ActionForm>
      )}
      <ActionForm intent="leave" answer={answer} sends={sends} className="flex flex-wrap items-end gap-3">
        <TextField look="small" label="Why not, in a few words" name="reason" maxLength={400} />
        <Button busy={leaves}>{brings === "points" ? "Done with it" : "Leave it"}</Button>
      </ActionForm>
      {brings === "text" && (
        <p className="w-full text-13 text-rail">
          What is there now stays, as version {piece.version}. The new version says whose words it began with.
        </p>
      )}
    </div>
  );
}

function What({ brought, ...props }: Props & { brought: Found }) {
  const { page, chosen } = props;
  if (brought.words) return <p className="mt-4 max-w-160">{brought.words.join(", ")}</p>;
  if (brought.points) return <Points {...props} points={brought.points} />;
  if (page.compared && chosen.standing === "brought") return <Beside page={page} compared={page.compared} />;
  if (chosen.standing === "taken")
    return (
      <Aside className="mt-4">
        It is in the piece. <TextLink to={`/pieces/${page.piece.slug}/versions`}>What became of it since</TextLink>
      </Aside>
    );
  return page.compared && <Beside page={page} compared={page.compared} />;
}

/** The text as it would be, with what would go struck through. */
function Beside({ page, compared }: { page: AssistData; compared: NonNullable<AssistData["compared"]> }) {
  const found = useComparison(compared.fields, compared.before, compared.after, page.names);
  const changed = found?.filter((one) => one.change.kind !== "same") ?? [];
  const { added, removed } = wordsChanged(changed);
  return (
    <div className="mt-4">
      <p className="text-13 text-rail" role="status">
        {found === null
          ? "comparing …"
          : changed.length === 0
            ? "It is what is there already."
            : `Beside the text of now: ${added} words would come, ${removed} would go.`}
      </p>
      {changed.map(({ key, change }) => (
        <div key={key} className="manuscript compared mt-4">
          <Compared change={change} side="both" />
        </div>
      ))}
    </div>
  );
}

/** What it has to say of the text; each can be made a remark of one's own. */
function Points({ page, chosen, answer, points }: Props & { points: NonNullable<Found["points"]> }) {
  const busy = useBusy("remark");
  const open = page.closed === null && chosen.standing === "brought";
  if (points.length === 0) return <Aside className="mt-4">It has nothing to say of the text.</Aside>;
  return (
    <ol className="mt-4 max-w-160 border-t border-rule">
      {points.map(({ quote, says }, i) => (
        <li
          // biome-ignore lint/suspicious/noArrayIndexKey: a point is known by its number
          key={i}
          className="flex flex-wrap items-start justify-between gap-3 border-b border-rule py-2"
        >
          <div className="min-w-0 flex-1 basis-60">
            {quote && <p className="break-words border-l-3 border-rule pl-2 text-13 text-rail">“{quote}”</p>}
            <p className="break-words">{says}</p>
          </div>
          {open && (
            <ActionForm
              intent="remark"
              answer={answer}
              sends={{ pieceId: page.piece.id, errandId: chosen.id, point: i, formKey: `${page.formKey}` }}
              className="text-13"
            >
              <Button busy={busy} aria-label={`Make a remark of it: ${says}`}>
                Make a remark of it
              </Button>
            </ActionForm>
          )}
        </li>
      ))}
      {answer?.intent === "remark" && !answer.refusal && (
        <Hint>
          <Status>
            It stands in the margin. <TextLink to={`/pieces/${page.piece.slug}`}>To the piece</TextLink>
          </Status>
        </Hint>
      )}
    </ol>
  );
}

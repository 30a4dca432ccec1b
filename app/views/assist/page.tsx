import { useEffect, useState } from "react";
import { Link } from "react-router";
import type { FormAnswer } from "#app/form-answer.ts";
import { ActionForm, useBusy } from "#app/ui/action-form.tsx";
import { Button } from "#app/ui/button.tsx";
import { FieldSet, Radio, TextArea } from "#app/ui/field.tsx";
import { useFocusAfter } from "#app/ui/focus-after.ts";
import { Fold } from "#app/ui/fold.tsx";
import { Aside } from "#app/ui/message.tsx";
import { Page, Part } from "#app/ui/page.tsx";
import { Row, Rows } from "#app/ui/rows.tsx";
import { When } from "#app/views/time/clock.tsx";
import { ERRANDS } from "#core/assist/errand.ts";
import { counted } from "#core/words/say.ts";
import { Brought } from "./brought.tsx";
import type { AssistData } from "./data.ts";

interface Props {
  page: AssistData;
  answer: FormAnswer | null;
}

/** What an assistant may be asked for a piece, with what it would be sent; and what it brought. */
export function PieceAssistantView(props: Props) {
  const { piece, assistant, rows } = props.page;
  const toBrought = () => document.getElementById("brought");
  // What was left took its button away.
  useFocusAfter(toBrought);
  const sent = props.answer?.intent === "ask" && !props.answer.refusal;
  // biome-ignore lint/correctness/useExhaustiveDependencies: each answer is heard once
  useEffect(() => {
    // What was asked for is where the next step is, whether or not one can ask again already.
    if (sent) toBrought()?.focus({ preventScroll: true });
  }, [props.answer]);
  const name = assistant?.name ?? "An assistant";
  return (
    <Page
      title={`${name} for “${piece.title}”`}
      about="What it brings is a proposal. It is in the piece only once somebody takes it, and then it is theirs."
      back={{ to: `/pieces/${piece.slug}`, name: piece.title, here: "Assistant" }}
    >
      <div className="mt-5 grid grid-cols-[minmax(0,1fr)] gap-x-10 gap-y-8 lg:grid-cols-[340px_minmax(0,1fr)]">
        <div className="space-y-6">
          <Asking {...props} />
          {rows.length > 0 && <Asked {...props} />}
        </div>
        <div className={`min-w-0 ${props.page.chosen?.standing === "brought" ? "max-lg:order-first" : ""}`}>
          {props.page.chosen ? (
            <Brought key={props.page.chosen.id} {...props} chosen={props.page.chosen} />
          ) : (
            <Aside>Nothing was asked for here yet. What is brought stands here, beside the text of now.</Aside>
          )}
        </div>
      </div>
    </Page>
  );
}

function Asking({ page, answer }: Props) {
  const { assistant, closed, errands, sent, shown, piece, formKey, rows } = page;
  const [said, setSaid] = useState("");
  const busy = useBusy("ask");
  const waits = rows.some((one) => one.standing === "waiting");
  if (closed)
    return (
      <Part title="Ask for" className="">
        <p className="mt-2 text-13">{closed.sentence}</p>
      </Part>
    );
  return (
    <Part title="Ask for" className="">
      <ActionForm
        intent="ask"
        answer={answer}
        sends={{ pieceId: piece.id, shown, formKey }}
        className="mt-2 space-y-3"
        empties
      >
        <FieldSet legend="What" name="errand">
          {errands.map((key) => (
            <Radio key={key} name="errand" value={key}>
              {ERRANDS[key].name} <span className="text-rail">{ERRANDS[key].about}</span>
            </Radio>
          ))}
        </FieldSet>
        <TextArea
          label="What you would like to add"
          name="note"
          rows={2}
          maxLength={4000}
          onChange={(event) => setSaid(event.target.value)}
        />
        <Fold summary="What is sent to it" open>
          <Sent sent={sent} note={said} />
        </Fold>
        {waits ? (
          <Aside>{assistant?.name} is at something. It can be asked again once that is back.</Aside>
        ) : (
          <Button look="go" busy={busy}>
            {busy ? "Sending it …" : `Send this to ${assistant?.name}`}
          </Button>
        )}
      </ActionForm>
    </Part>
  );
}

/** All that would leave the house, and nothing else. */
function Sent({ sent, note }: { sent: AssistData["sent"]; note: string }) {
  const lines: [string, string][] = [
    ["Title", sent.title],
    ["Kind", sent.kind],
    ["Brief", sent.brief || "none"],
    ...sent.fields.map(({ name, says }): [string, string] => [name, says || "empty"]),
    ["Text", sent.words === 0 ? "none yet" : counted(sent.words, "word")],
    ...(sent.mostWords === null ? [] : [["At most", counted(sent.mostWords, "word")] satisfies [string, string]]),
    ["You add", note.trim() || "nothing"],
  ];
  return (
    <div className="border-l-3 border-rule pl-3 text-13">
      <dl className="grid grid-cols-[auto_minmax(0,1fr)] gap-x-3 gap-y-0.5">
        {lines.map(([name, says]) => (
          <div key={name} className="contents">
            <dt className="text-rail">{name}</dt>
            <dd className="line-clamp-3 break-words">{says}</dd>
          </div>
        ))}
      </dl>
      {sent.text.trim() !== "" && (
        <Fold summary="The text as it is sent" className="mt-1">
          <p className="max-h-60 overflow-y-auto whitespace-pre-wrap break-words">{sent.text}</p>
        </Fold>
      )}
      <p className="mt-1 text-rail">No file, no remark, no note for the workshop alone, and nobody's name.</p>
    </div>
  );
}

const STANDS: Record<AssistData["rows"][number]["standing"], string> = {
  waiting: "on its way",
  brought: "to be looked at",
  failed: "in vain",
  taken: "taken",
  left: "left",
};

function Asked({ page: { rows, chosen } }: Props) {
  return (
    <Part title="Asked so far" className="">
      <Rows aria-label="Asked so far" className="">
        {rows.map((one) => (
          <Row key={one.id} className={`py-1 text-13 ${one.id === chosen?.id ? "bg-wash" : ""}`}>
            <Link
              to={`?errand=${one.id}`}
              preventScrollReset
              aria-current={one.id === chosen?.id || undefined}
              className="font-semibold hover:text-blue"
            >
              {ERRANDS[one.errand].name}
            </Link>{" "}
            <span className={one.standing === "brought" ? "font-semibold" : "text-rail"}>{STANDS[one.standing]}</span>
            <span className="block text-rail">
              {one.by}, <When at={one.at} />
              {one.cost && ` · ${one.cost}`}
            </span>
          </Row>
        ))}
      </Rows>
    </Part>
  );
}

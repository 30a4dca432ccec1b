import { ActionForm, useBusy } from "#app/ui/action-form.tsx";
import { Button } from "#app/ui/button.tsx";
import { FieldSet, Radio, TextArea, TextField } from "#app/ui/field.tsx";
import { Fold } from "#app/ui/fold.tsx";
import { Aside } from "#app/ui/message.tsx";
import { Part } from "#app/ui/page.tsx";
import { whyNot } from "#core/intake/item.ts";
import type { Chosen, IntakeAnswer, IntakeData } from "./data.ts";
import { LikeIt } from "./note-idea.tsx";

interface Props {
  item: Chosen;
  page: IntakeData;
  answer: IntakeAnswer;
}

/** An idea: its outline, what is like it, and what everybody thinks of it. */
export function Idea(props: Props) {
  const { item } = props;
  const open = whyNot("outline", item) === null;
  return (
    <>
      {open ? <Outline {...props} /> : item.words && <p className="whitespace-pre-line break-words">{item.words}</p>}
      {item.bundle !== null && (
        <LikeIt says={`Gathered under “${item.bundle}”`} like={{ items: item.gathered, pieces: [] }} />
      )}
      <LikeIt like={item.like} />
      {item.mayJudge && open && <ShortList {...props} />}
      <Judgements {...props} />
    </>
  );
}

function Outline({ item, answer }: Props) {
  const busy = useBusy("outline");
  return (
    <ActionForm intent="outline" answer={answer} sends={{ itemId: item.id, revision: item.revision }}>
      <TextArea
        key={`words ${item.revision}`}
        label="Outline"
        name="words"
        rows={4}
        maxLength={4000}
        defaultValue={item.words}
        hint="What it would say, to whom, and what is there already."
      />
      <TextField
        key={`bundle ${item.revision}`}
        label="Belongs with"
        name="bundle"
        maxLength={80}
        defaultValue={item.bundle ?? ""}
        hint="A word ideas are gathered under, if you like."
      />
      <Button busy={busy}>Keep the outline</Button>
    </ActionForm>
  );
}

function ShortList({ item, answer }: Props) {
  const busy = useBusy("shortlist");
  return (
    <ActionForm
      intent="shortlist"
      answer={answer}
      sends={{ itemId: item.id, revision: item.revision, on: String(!item.shortlisted) }}
    >
      <Button look="word" busy={busy}>
        {item.shortlisted ? "Take it off the short list" : "Put it on the short list"}
      </Button>
    </ActionForm>
  );
}

/** What everybody thinks of it, question by question, and where one says it oneself. */
function Judgements({ item, page, answer }: Props) {
  const busy = useBusy("judge");
  const mine = item.judgements.find((one) => one.personId === page.me);
  const open = whyNot("judge", item) === null;
  return (
    <Part title="What we think of it">
      {item.judgements.length === 0 && <Aside className="mt-2">Nobody has judged it yet.</Aside>}
      {item.judgements.length > 0 && (
        <ul className="mt-2 space-y-1 text-13">
          {item.tallies.map(({ key, asks, counts }) => (
            <li key={key}>
              {asks}{" "}
              <b className="font-semibold">
                {counts
                  .filter((one) => one.count > 0)
                  .map((one) => `${one.answer} (${one.count})`)
                  .join(", ") || "nobody said"}
              </b>
            </li>
          ))}
          {item.judgements
            .filter((one) => one.note)
            .map(({ personId, name, note }) => (
              <li key={personId} className="break-words text-rail">
                {name}: {note}
              </li>
            ))}
        </ul>
      )}
      {open && (
        <Fold summary={mine ? "Judge it anew" : "Judge it"} className="mt-2">
          <ActionForm
            intent="judge"
            answer={answer}
            sends={{ itemId: item.id, revision: item.revision }}
            className="mt-2 space-y-3"
          >
            {page.questions.map(({ key, asks, answers }) => (
              <FieldSet key={key} legend={asks}>
                {answers.map((one) => (
                  <Radio key={one} name={`q.${key}`} value={one} defaultChecked={mine?.answers[key] === one}>
                    {one}
                  </Radio>
                ))}
              </FieldSet>
            ))}
            <TextField label="In a line" name="note" maxLength={500} defaultValue={mine?.note ?? ""} />
            <Button busy={busy}>Say so</Button>
          </ActionForm>
        </Fold>
      )}
    </Part>
  );
}

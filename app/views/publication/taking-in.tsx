import { useState } from "react";
import { Link } from "react-router";
import type { FormAnswer } from "#app/form-answer.ts";
import { ActionForm, useBusy } from "#app/ui/action-form.tsx";
import { Button, ButtonLink, IconButton, TextLink } from "#app/ui/button.tsx";
import { Hidden, TextArea, TextField } from "#app/ui/field.tsx";
import { Aside, Empty, Status } from "#app/ui/message.tsx";
import { Page, Part } from "#app/ui/page.tsx";
import { Row, Rows } from "#app/ui/rows.tsx";
import { freeKey } from "#core/words/keys.ts";
import { counted } from "#core/words/say.ts";
import { Feeds } from "./feeds.tsx";
import { RequestFormForm } from "./request-form.tsx";
import type { TakingInData } from "./taking-in-data.ts";

type Answer = FormAnswer | null;

/** The forms by which something is asked for, and what holds for all that comes in. */
export function TakingInView({ page, answer }: { page: TakingInData; answer: Answer }) {
  const { forms, chosen, isNew } = page;
  if (chosen || isNew)
    return (
      <Page
        back={{ to: "/publication/intake", name: "Taking in" }}
        title={chosen?.name ?? "A new form"}
        about={chosen && <Address address={`${page.baseUrl}/ask/${chosen.key}`} on={chosen.on} />}
      >
        <RequestFormForm key={`${chosen?.id} ${chosen?.revision}`} page={page} answer={answer} />
      </Page>
    );
  return (
    <Page
      title="Taking in"
      about="What is asked for by a form lands in the intake, complete or with what is missing asked for already."
      act={<ButtonLink to="?form=">A new form</ButtonLink>}
    >
      {forms.length === 0 ? (
        <Empty act={<ButtonLink to="?form=">Make the first</ButtonLink>}>
          There is no form yet. With one, whoever wants something published says what, how much and by when.
        </Empty>
      ) : (
        <Rows aria-label="Forms" className="mt-4 max-w-220 border-t border-ink">
          {forms.map((one) => (
            <Row key={one.id} className="flex flex-wrap items-baseline justify-between gap-x-4 py-1.5">
              <Link to={`?form=${one.key}`} className="min-w-0 truncate font-semibold hover:text-blue">
                {one.name}
              </Link>
              <span className="text-13 text-rail">
                {one.on ? `${one.names.kind} for ${one.names.section}` : "closed"}
                {one.waits > 0 && ` · ${counted(one.waits, "thing")} ${one.waits === 1 ? "waits" : "wait"}`}
              </span>
            </Row>
          ))}
        </Rows>
      )}
      <Feeds page={page} answer={answer} />
      <Part title="Mail" className="mt-8 max-w-220">
        <p className="mt-2 text-13">
          {page.mailIn === null
            ? "No mail comes in here: whoever runs Elenco says on which port it listens (MAIL_IN_PORT)."
            : `Mail to intake@ comes in as material, mail to ideas@ as an idea, on port ${page.mailIn}. Nobody proves whom a mail is from.`}
        </p>
      </Part>
      <Agreed key={JSON.stringify(page.agreed)} agreed={page.agreed} answer={answer} />
    </Page>
  );
}

const Address = ({ address, on }: { address: string; on: boolean }) => (
  <>
    {on ? "It is filled in at " : "It is closed. It was filled in at "}
    <TextLink to={new URL(address).pathname} reloadDocument className="wrap-anywhere">
      {address}
    </TextLink>
  </>
);

type Question = TakingInData["agreed"]["questions"][number] & { row: number };

/** What ideas are judged by, why things are declined, and by when the team answers. */
function Agreed({ agreed, answer }: { agreed: TakingInData["agreed"]; answer: Answer }) {
  const busy = useBusy("agree");
  const [questions, setQuestions] = useState<Question[]>(agreed.questions.map((one, row) => ({ ...one, row })));
  const [reasons, setReasons] = useState(agreed.reasons.join("\n"));
  const [promise, setPromise] = useState(agreed.promise ?? "");
  const change = (row: number, more: Partial<Question>) =>
    setQuestions(questions.map((one) => (one.row === row ? { ...one, ...more } : one)));
  const add = () => {
    const key = freeKey("question", questions, "question");
    const row = Math.max(-1, ...questions.map((one) => one.row)) + 1;
    setQuestions([...questions, { key, asks: "", answers: [], row }]);
  };
  const settings = {
    questions: questions.map(({ row: _, answers, ...one }) => ({
      ...one,
      answers: answers.map((said) => said.trim()).filter(Boolean),
    })),
    reasons: reasons
      .split("\n")
      .map((one) => one.trim())
      .filter(Boolean),
    promise: promise.trim() || null,
  };
  return (
    <Part title="For all that comes in" className="mt-8 max-w-220">
      <ActionForm intent="agree" answer={answer} className="mt-3 space-y-4">
        <Hidden name="settings" value={JSON.stringify(settings)} />
        <fieldset className="space-y-2" data-field="settings">
          <legend className="mb-1 text-13 font-semibold">What ideas are judged by</legend>
          {questions.map(({ row, asks, answers }, i) => (
            <div key={row} className="flex flex-wrap items-end gap-2">
              <div className="min-w-0 grow basis-60">
                <TextField
                  label={`Question ${i + 1}`}
                  value={asks}
                  maxLength={120}
                  onChange={(event) => change(row, { asks: event.target.value })}
                />
              </div>
              <div className="min-w-0 grow basis-80">
                <TextField
                  label={`Answers to question ${i + 1}, from the least to the most, with commas between`}
                  value={answers.join(",")}
                  onChange={(event) =>
                    change(row, { answers: event.target.value.split(",").map((one) => one.trimStart()) })
                  }
                />
              </div>
              <IconButton
                label={`Take question ${i + 1} out`}
                onClick={() => setQuestions(questions.filter((one) => one.row !== row))}
              >
                ×
              </IconButton>
            </div>
          ))}
          {questions.length < 3 && (
            <Button type="button" look="quiet" className="-ml-3" onClick={add}>
              Add a question
            </Button>
          )}
        </fieldset>
        <TextArea
          label="Why things are declined, a reason a line"
          rows={4}
          value={reasons}
          onChange={(event) => setReasons(event.target.value)}
          hint="They are offered when something is declined, and its sender is told in these words."
        />
        <div className="max-w-60">
          <TextField
            label="Ideas and readers are answered within"
            value={promise}
            onChange={(event) => setPromise(event.target.value)}
            placeholder="3wd"
            hint="Working days (3wd) or hours (6wh); empty for no promise."
          />
        </div>
        <div className="flex items-center gap-3">
          <Button look="go" busy={busy}>
            Keep it
          </Button>
          {answer?.intent === "agree" && !answer.refusal && Object.keys(answer.fields).length === 0 && (
            <Status>Kept.</Status>
          )}
        </div>
        {answer?.intent === "agree" && answer.fields.settings && (
          <Aside className="text-red!">{answer.fields.settings}</Aside>
        )}
      </ActionForm>
    </Part>
  );
}

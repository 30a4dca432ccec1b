import { useEffect, useRef, useState } from "react";
import type { FormAnswer } from "#app/form-answer.ts";
import { ActionForm, useBusy } from "#app/ui/action-form.tsx";
import { Button, TextLink } from "#app/ui/button.tsx";
import { TextArea, TextField } from "#app/ui/field.tsx";
import { Aside, Status } from "#app/ui/message.tsx";
import { Page, Part } from "#app/ui/page.tsx";
import { Option, SelectField } from "#app/ui/select.tsx";
import { useClock } from "#app/views/time/clock.tsx";
import {
  FIELDS,
  type Field,
  type FieldValues,
  faultsIn,
  fill,
  fillLine,
  READY_WORDING,
  WORDED,
  WORDING_MOST,
  type Worded,
  type Wording,
} from "#core/telling/wording.ts";
import { sayInstant } from "#core/time/words.ts";
import type { Route } from "../../routes/+types/publication-wording-one.ts";
import { PLACE_WORDS, partWords } from "./wording-words.ts";

type Data = Route.ComponentProps["loaderData"];

/** One notice: its words in one place, what they may be made of, and how they read on a real piece. */
export function WordingView({ page, answer }: { page: Data; answer: FormAnswer | null }) {
  const [place, setPlace] = useState<Worded>("mail");
  /** What is written and not said so yet, in each place. */
  const [drafts, setDrafts] = useState<Partial<Record<Worded, Wording>>>({});
  const own = page.own.find((one) => one.place === place) ?? null;
  // What is said so, or given up, is written no more.
  // biome-ignore lint/correctness/useExhaustiveDependencies: each answer is heard once
  useEffect(() => {
    const done = answer && !answer.refusal && Object.keys(answer.fields).length === 0;
    if (done && answer.intent !== "try") setDrafts((held) => ({ ...held, [place]: undefined }));
  }, [answer]);
  const draft = (words: Wording) => setDrafts((held) => ({ ...held, [place]: words }));
  const words = drafts[place] ?? own ?? READY_WORDING[place];
  return (
    <Page
      back={{ to: "/publication/wording", name: "Wording" }}
      title={page.says}
      about={`To ${partWords(page.part)}, when somebody ${page.when}. ‹…› stands for what a notice holds.`}
    >
      <nav aria-label="Where it is read" className="mt-4 flex gap-5 border-b border-rule text-13">
        {WORDED.map((one) => (
          <Button
            key={one}
            look="bare"
            aria-pressed={one === place}
            onClick={() => setPlace(one)}
            className={`border-b-3 pb-1.5 ${one === place ? "border-blue font-semibold text-blue" : "border-transparent hover:text-blue"}`}
          >
            {PLACE_WORDS[one]}
            {page.own.some((has) => has.place === one) && <span className="font-normal text-rail"> · your own</span>}
          </Button>
        ))}
      </nav>
      <Editor key={place} page={page} place={place} own={own} answer={answer} words={words} setWords={draft} />
    </Page>
  );
}

type Own = Data["own"][number];

function Editor({
  page,
  place,
  own,
  answer,
  words,
  setWords,
}: {
  page: Data;
  place: Worded;
  own: Own | null;
  answer: FormAnswer | null;
  words: Wording;
  setWords(words: Wording): void;
}) {
  const [on, setOn] = useState(String(page.occasions[0]?.seq ?? 0));
  const edited = useRef<"headline" | "body">("body");
  const form = useRef<HTMLDivElement>(null);
  const [busy, trying] = [useBusy("keep"), useBusy("try")];
  const occasion = page.occasions.find((one) => String(one.seq) === on) ?? page.occasions.at(-1);
  const change = (part: "headline" | "body") => ({
    name: part,
    value: words[part],
    maxLength: WORDING_MOST[part],
    error: faultIn(words[part], page.fields),
    onFocus: () => {
      edited.current = part;
    },
    onChange: (event: { target: { value: string } }) => setWords({ ...words, [part]: event.target.value }),
  });
  const insert = (field: Field) => {
    const part = edited.current;
    const input = form.current?.querySelector<HTMLInputElement>(`[name=${part}]`);
    const at = input?.selectionStart ?? words[part].length;
    const put = `{{${field}}}`;
    setWords({ ...words, [part]: words[part].slice(0, at) + put + words[part].slice(input?.selectionEnd ?? at) });
    requestAnimationFrame(() => {
      input?.focus();
      input?.setSelectionRange(at + put.length, at + put.length);
    });
  };
  const said = (intent: string) =>
    answer?.intent === intent && !answer.refusal && Object.keys(answer.fields).length === 0;
  const of = { event: page.event, part: page.part, place };
  return (
    <div
      ref={form}
      className="mt-4 grid grid-cols-[minmax(0,1fr)] gap-x-10 gap-y-6 lg:grid-cols-[minmax(0,1fr)_minmax(0,380px)]"
    >
      <div>
        <ActionForm intent="keep" label="The words" answer={answer} sends={of} className="space-y-3">
          <TextField label={place === "mail" ? "Subject, and headline" : "Headline"} {...change("headline")} />
          <TextArea
            label={place === "app" ? "Below it" : "Text"}
            {...change("body")}
            rows={7}
            className="font-mono text-13!"
          />
          <Button look="go" busy={busy}>
            Say it so
          </Button>
        </ActionForm>
        <div className="mt-2 flex flex-wrap items-center gap-3">
          {place !== "app" && (
            <ActionForm
              intent="try"
              label="Try it"
              answer={answer}
              sends={{ ...of, on, ...words }}
              className="contents"
            >
              <Button busy={trying}>{place === "mail" ? "Send it to me to try" : "Say it in my channel to try"}</Button>
            </ActionForm>
          )}
          {own && (
            <ActionForm intent="ready" label="The ready-made words" answer={answer} sends={of} className="contents">
              <Button look="quiet">Back to the ready-made words</Button>
            </ActionForm>
          )}
        </div>
        {said("keep") && <Status className="mt-2">It is said so from now on.</Status>}
        {said("ready") && <Status className="mt-2">The ready-made words are back.</Status>}
        {said("try") && <Status className="mt-2">It is on its way to you.</Status>}
        <Part title="Fields">
          <ul className="mt-2 grid gap-x-6 text-13 sm:grid-cols-2">
            {page.fields.map((field) => (
              <li key={field} className="flex items-baseline gap-2">
                <Button
                  look="word"
                  className="min-h-7"
                  type="button"
                  onClick={() => insert(field)}
                  aria-label={`{{${field}}}: put it in`}
                >
                  {`{{${field}}}`}
                </Button>
                <span className="text-rail">{FIELDS[field]}</span>
              </li>
            ))}
          </ul>
          <Aside className="mt-2 max-w-140">
            {
              "What stands between {{#note}} and {{/note}} is said only where there is a note; between {{^note}} and {{/note}} where there is none. So with every field."
            }
          </Aside>
        </Part>
      </div>
      <Preview page={page} place={place} words={words} values={occasion?.values ?? null} on={on} setOn={setOn} />
    </div>
  );
}

function faultIn(template: string, fields: readonly Field[]): string | undefined {
  const [fault] = faultsIn(template, fields);
  return fault && `Line ${fault.line}, column ${fault.column}: ${fault.sentence}`;
}

/** How the words read where something happened. */
function Preview({
  page,
  place,
  words,
  values,
  on,
  setOn,
}: {
  page: Data;
  place: Worded;
  words: { headline: string; body: string };
  values: FieldValues | null;
  on: string;
  setOn(on: string): void;
}) {
  const { now, zone } = useClock();
  const amiss = faultIn(words.headline, page.fields) ?? faultIn(words.body, page.fields);
  return (
    <section aria-label="How it reads" className="lg:border-l lg:border-rule lg:pl-6">
      <SelectField label="Tried on" name="on" value={on} onChoose={setOn}>
        {page.occasions.map(({ seq, at, values: { piece } }) => (
          <Option key={seq} value={String(seq)}>
            {seq === 0 ? "what might happen" : `${piece}, ${sayInstant(at, zone, now)}`}
          </Option>
        ))}
      </SelectField>
      {amiss || !values ? (
        <Aside className="mt-3">It reads once every field is known and closed.</Aside>
      ) : (
        <div className="mt-3 border border-rule bg-paper p-3 text-13">
          <p className="font-semibold wrap-anywhere">{fillLine(words.headline, values) || values.what}</p>
          <p className="mt-2 whitespace-pre-wrap wrap-anywhere">{fill(words.body, values)}</p>
          {place !== "app" && (
            <p className="mt-2 text-rail">Behind it stand the way of the piece, a link to it, and how one is told.</p>
          )}
        </div>
      )}
      {page.occasions.length === 1 && (
        <Aside className="mt-2">Nothing of the kind has happened to a piece you may see yet.</Aside>
      )}
      {place === "chat" && !page.chat && (
        <Aside className="mt-2">
          You have no chat channel to try it in. <TextLink to="/notices/how">Name one</TextLink>
        </Aside>
      )}
    </section>
  );
}

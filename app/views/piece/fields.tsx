import { useDeferredValue, useId, useMemo } from "react";
import { Link } from "react-router";
import type { FormAnswer } from "#app/form-answer.ts";
import { ActionForm } from "#app/ui/action-form.tsx";
import { Button } from "#app/ui/button.tsx";
import { later } from "#app/ui/later.tsx";
import { Message } from "#app/ui/message.tsx";
import { When } from "#app/views/time/clock.tsx";
import type { Field } from "#core/text/field.ts";
import { countFields, fieldProblems, type Value } from "#core/text/fields.ts";
import type { Picture } from "#core/text/manuscript.ts";
import { countCharacters } from "#core/text/measure.ts";
import { sayValue } from "#core/text/values.ts";
import type { Draft } from "./draft.ts";
import { FileList } from "./file-list.tsx";
import { carried } from "./framed.tsx";
import { useHolding } from "./holding.ts";
import type { PiecePage } from "./page.ts";
import { SmallPicture } from "./small-picture.tsx";
import { ThisRound } from "./this-round.tsx";

const FieldInput = later(async () => (await import("./field-input.tsx")).FieldInput);

/** Left of the text: the kind's fields with their counts, the checklist, the round's seats, the versions. */
export function Fields({
  page,
  draft,
  answer,
}: {
  page: PiecePage;
  draft: Draft;
  answer: FormAnswer | null | undefined;
}) {
  const content = useDeferredValue(draft.content);
  // What came from the server it has counted already, by the Unicode data it has.
  const counts = useMemo(() => (content === page.content ? page.words : countFields(content)), [content, page]);
  const problems = new Map(
    fieldProblems(page.kind.fields, content, counts).map((problem) => [problem.key, problem.sentence]),
  );
  return (
    <div className="space-y-6 text-13">
      <section>
        <h2 className="text-rail">Fields</h2>
        <div className="mt-2 space-y-2.5">
          {page.kind.fields.map((field) => (
            <OneField
              key={field.key}
              field={field}
              page={page}
              draft={draft}
              words={counts[field.key] ?? 0}
              problem={problems.get(field.key)}
            />
          ))}
        </div>
      </section>
      {page.round && <ThisRound page={page} round={page.round} />}
      <Checklist page={page} answer={answer} />
      <FileList page={page} />
      <section>
        <h2 className="text-rail">Versions</h2>
        <ol className="mt-1 space-y-1">
          {page.versions.map((version) => (
            <li key={version.id} title={version.hash}>
              <b className="font-semibold">{version.number}</b> · {version.author}, <When at={version.at} />
              {version.name && <span className="block truncate pl-4">“{version.name}”</span>}
              {(version.approved || version.live) && (
                <span className="text-rail">
                  {" "}
                  · {[version.approved && "approved", version.live && "live"].filter(Boolean).join(", ")}
                </span>
              )}
            </li>
          ))}
        </ol>
        <Link to={`/pieces/${page.row.slug}/versions`} className="mt-1 inline-block py-1 font-semibold text-blue">
          Compare, find, bring back
        </Link>
      </section>
    </div>
  );
}

function OneField({
  field,
  page,
  draft,
  words,
  problem,
}: {
  field: Field;
  page: PiecePage;
  draft: Draft;
  words: number;
  problem: string | undefined;
}) {
  const id = useId();
  const { writable } = useHolding(page);
  const { content, change } = draft;
  const value = content.fields[field.key];
  const missing = problem !== undefined && words === 0;
  // What is still to be written is said quietly; what must be changed is not.
  const wrong = problem !== undefined && words >= (field.minWords ?? 1);
  const set = (next: Value | undefined) =>
    change((was) => {
      const { [field.key]: _, ...others } = was.fields;
      return { ...was, fields: next === undefined ? others : { ...was.fields, [field.key]: next } };
    });
  const said = sayValue(field, content, page.names);
  const isText = field.type === "manuscript";
  return (
    <div>
      <label htmlFor={id} className="block text-12 text-rail">
        {field.name}
      </label>
      {!isText &&
        (writable ? (
          <FieldInput
            key={draft.generation}
            id={id}
            field={field}
            value={value}
            names={page.names}
            home={{ id: page.row.id, slug: page.row.slug, files: page.files }}
            onChange={set}
          />
        ) : (
          <p id={id} className="break-words font-semibold">
            {(field.type === "image" && value && <SmallPicture picture={value as Picture} />) || said || (
              <span className="font-normal text-rail">{missing ? "missing" : "none"}</span>
            )}
          </p>
        ))}
      <p
        id={`${id}-limit`}
        className={`text-12 ${wrong ? "font-semibold text-red" : "text-rail"} ${isText ? "text-13 font-semibold" : ""}`}
      >
        {missing && !isText ? "missing" : limitOf(field, words, value, problem)}
      </p>
    </div>
  );
}

/** How much of what a field may hold it holds. */
function limitOf(field: Field, words: number, value: Value | undefined, problem: string | undefined): string {
  const { minWords, maxWords, maxCharacters, type } = field;
  if (maxWords) return `${words} of ${minWords ? `${minWords}–` : ""}${maxWords} words`;
  if (maxCharacters) return `${countCharacters(String(value ?? ""))} of ${maxCharacters} characters`;
  if (type === "manuscript") return minWords ? `${words} of at least ${minWords} words` : `${words} words`;
  return problem && value !== undefined ? problem.replace(`${field.name} `, "") : "";
}

/** What is to be looked at here, point by point. */
export function Checklist({ page, answer }: { page: PiecePage; answer: FormAnswer | null | undefined }) {
  if (page.checklist.length === 0) return null;
  return (
    <section>
      <h2 className="text-rail">Checklist</h2>
      {answer?.intent === "tick" && answer.refusal && <Message>{answer.refusal.sentence}</Message>}
      <ul className="mt-1">
        {page.checklist.map((point) => (
          <li key={point.position}>
            <ActionForm intent="tick" answer={null} sends={{ ...carried(page), position: point.position }} className="">
              <Button
                look="bare"
                type="submit"
                name="done"
                value={point.done ? "false" : "true"}
                aria-pressed={point.done !== null}
                className="flex gap-2 py-1 text-left hover:text-blue"
                title={point.done ?? undefined}
              >
                <span
                  aria-hidden="true"
                  className={`mt-0.5 size-3.5 shrink-0 border border-ink ${point.done ? "bg-ink" : "bg-paper"}`}
                />
                {point.words}
              </Button>
            </ActionForm>
          </li>
        ))}
      </ul>
    </section>
  );
}

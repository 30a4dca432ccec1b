import { useEffect, useState } from "react";
import { useNavigation, useRevalidator } from "react-router";
import type { FormAnswer } from "#app/form-answer.ts";
import { ActionForm } from "#app/ui/action-form.tsx";
import { Button } from "#app/ui/button.tsx";
import { MomentField } from "#app/ui/date-field.tsx";
import { Checkbox, Radio } from "#app/ui/field.tsx";
import { Fold } from "#app/ui/fold.tsx";
import { Message } from "#app/ui/message.tsx";
import { Option, Select } from "#app/ui/select.tsx";
import { When } from "#app/views/time/clock.tsx";
import { WorkflowLine } from "#app/views/workflow/line.tsx";
import type { Finding } from "#core/workflow/checking/check.ts";
import { identity } from "#core/workflow/checking/mend.ts";
import type { Workflow } from "#core/workflow/document.ts";
import type { Difference } from "#core/workflow/editing/differences.ts";
import { type Fate, landing, mayLand, roundFate } from "#core/workflow/migrate.ts";
import type { FateGroup } from "#server/workflows/preview.ts";
import type { Studio } from "#server/workflows/queries.ts";
import type { Copy } from "./copy.ts";

interface Props {
  studio: Studio;
  copy: Copy;
  findings: Finding[] | null;
  locked: boolean;
  preview: FateGroup[] | null;
  differing: Difference[];
  answer: FormAnswer | null;
  formKey: string;
}

type Fates = Record<string, Fate | undefined>;

/** The working copy beside what is in use: what differs, what becomes of every piece in flight, and the putting in use. */
export function Changes({ studio, copy, findings, locked, preview, differing, answer, formKey }: Props) {
  const { revalidate } = useRevalidator();
  const [states, setStates] = useState<Fates>({});
  const [pieces, setPieces] = useState<Fates>({});
  const [seen, setSeen] = useState<string[]>([]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the preview is of what was saved last
  useEffect(() => {
    revalidate();
  }, [copy.revision]);
  if (!studio.copy && copy.revision === 0)
    return (
      <p className="px-4 py-5 md:px-6">
        Nothing is changed: the line is as it is in use. Go back to it and change something.
      </p>
    );
  const groups = preview ?? [];
  const fateOf = (group: FateGroup) => states[group.key] ?? group.fate;
  const eachChosen = (group: FateGroup) =>
    group.pieces.length === group.count && group.pieces.every((piece) => pieces[piece.id]);
  const blocked = groups.filter((group) => !fateOf(group) && !eachChosen(group));
  const errors = findings?.filter((finding) => finding.severity === "error") ?? [];
  const warnings = findings?.filter((finding) => finding.severity === "warning") ?? [];
  const unseen = warnings.filter((finding) => !seen.includes(identity(finding)));
  return (
    <div className="grid flex-1 grid-cols-[minmax(0,1fr)] lg:grid-cols-[minmax(0,1fr)_356px]">
      <div className="min-w-0 px-4 py-4 md:px-6">
        {studio.inUse && <Differences differing={differing} />}
        <h2 className={`text-15! ${studio.inUse ? "mt-5" : ""}`}>Pieces in flight</h2>
        {preview === null ? (
          <p className="mt-1 text-13 text-rail">
            {errors.length > 0 ? "To be seen once the problems are mended." : "Looking …"}
          </p>
        ) : groups.length === 0 ? (
          <p className="mt-1 text-13 text-rail">No piece travels on it.</p>
        ) : (
          <ul className="mt-1 border-t border-ink">
            {groups.map((group) => (
              <Group
                key={group.key}
                group={group}
                workflow={copy.workflow}
                before={studio.inUse?.document ?? copy.workflow}
                fate={fateOf(group)}
                own={pieces}
                onFate={(fate) => setStates({ ...states, [group.key]: fate })}
                onPiece={(id, fate) => setPieces({ ...pieces, [id]: fate })}
              />
            ))}
          </ul>
        )}
        {studio.inUse && (
          <OnTheLine before={studio.inUse.document} after={copy.workflow} differing={differing} here={studio.here} />
        )}
      </div>
      <aside aria-label="Put in use" className="border-rule bg-paper px-4 py-4 lg:border-l">
        <h2 className="text-19!">Put in use</h2>
        {errors.length > 0 && (
          <div className="mt-3">
            <Message more={errors.map((finding) => finding.message)}>
              {errors.length === 1 ? "A problem keeps" : `${errors.length} problems keep`} it from being put in use.
            </Message>
          </div>
        )}
        {warnings.length > 0 && (
          <fieldset className="mt-3 text-13">
            <legend className="font-semibold">I have seen, and it goes on record:</legend>
            {warnings.map((finding) => (
              <Checkbox
                checked={seen.includes(identity(finding))}
                onChange={(event) =>
                  setSeen(
                    event.target.checked
                      ? [...seen, identity(finding)]
                      : seen.filter((one) => one !== identity(finding)),
                  )
                }
                key={identity(finding)}
                className="items-start border-b border-rule py-1.5"
              >
                {finding.message}
              </Checkbox>
            ))}
          </fieldset>
        )}
        {blocked.length > 0 && (
          <div className="mt-3">
            <Message>
              {`Pieces in ${blocked.map((group) => group.state.name).join(", ")} have nowhere to go. Choose where.`}
            </Message>
          </div>
        )}
        {!locked && (
          <UseForm
            copy={copy}
            choices={{ states: given(states), pieces: given(pieces) }}
            acknowledged={seen}
            waits={errors.length > 0 || unseen.length > 0 || blocked.length > 0 || findings === null}
            answer={answer}
            formKey={formKey}
          />
        )}
      </aside>
    </div>
  );
}

const given = (fates: Fates) => Object.fromEntries(Object.entries(fates).filter(([, fate]) => fate !== undefined));

function UseForm({
  copy,
  choices,
  acknowledged,
  waits,
  answer,
  formKey,
}: {
  copy: Copy;
  choices: object;
  acknowledged: string[];
  waits: boolean;
  answer: FormAnswer | null;
  formKey: string;
}) {
  const [when, setWhen] = useState<"now" | "at">("now");
  const busy = useNavigation().state === "submitting";
  const saved = copy.state.kind === "saved";
  return (
    <ActionForm
      intent="use"
      answer={answer}
      sends={{
        formKey,
        revision: copy.revision,
        choices: JSON.stringify(choices),
        acknowledged: JSON.stringify(acknowledged),
      }}
      className="mt-4 space-y-3"
    >
      <fieldset className="text-13">
        <legend className="sr-only">When</legend>
        {(
          [
            ["now", "At once"],
            ["at", "At a date"],
          ] as const
        ).map(([key, words]) => (
          <Radio
            name="when"
            value={key}
            checked={when === key}
            onChange={() => setWhen(key)}
            key={key}
            className="mr-4 inline-flex"
          >
            {words}
          </Radio>
        ))}
      </fieldset>
      {when === "at" && (
        <MomentField
          label="Date and time"
          name="at"
          hint="Everything is judged again then; what no longer holds keeps it back, and you are told."
        />
      )}
      <Button look="go" busy={busy} disabled={waits || !saved}>
        {busy ? "Putting it in use …" : when === "now" ? "Put in use" : "Plan it"}
      </Button>
      {!busy && waits && <p className="text-12 text-rail">It can be put in use once what stands above is settled.</p>}
    </ActionForm>
  );
}

/** What differs, in words. */
function Differences({ differing }: { differing: Difference[] }) {
  return (
    <>
      <h2 className="text-15!">Compared with what is in use</h2>
      {differing.length === 0 && <p className="mt-1 text-13 text-rail">Nothing differs.</p>}
      <ul className={`mt-1 grid gap-x-6 text-13 sm:grid-cols-2 ${differing.length > 0 ? "border-t border-ink" : ""}`}>
        {differing.map((one) => (
          <li key={`${one.sort} ${one.what} ${one.key} ${one.words}`} className="flex gap-2 border-b border-rule py-1">
            <span className="w-14 shrink-0 text-rail">{one.sort}</span>
            <span>
              {one.what === "transition" ? "Step " : ""}
              {one.words}
            </span>
          </li>
        ))}
      </ul>
    </>
  );
}

/** What differs, on the line: both forms one under the other, with the stops marked that are not in both alike. */
function OnTheLine({
  before,
  after,
  differing,
  here,
}: {
  before: Workflow;
  after: Workflow;
  differing: Difference[];
  here: Studio["here"];
}) {
  const marked = new Set(differing.filter((one) => one.what === "state").map((one) => one.key));
  return (
    [
      ["In use", before],
      ["As changed", after],
    ] as const
  ).map(([words, workflow]) => (
    <section
      key={words}
      aria-label={words}
      // biome-ignore lint/a11y/noNoninteractiveTabindex: a drawing wider than its place must scroll by keyboard too
      tabIndex={0}
      className="mt-5 overflow-x-auto"
    >
      <h2 className="text-15!">{words}</h2>
      <WorkflowLine workflow={workflow} here={workflow === before ? here : {}} width={720} differing={marked} />
    </section>
  ));
}

const wordOf = (fate: Fate | null | undefined) => (!fate ? "" : fate.kind === "moves" ? `to ${fate.to}` : fate.kind);
const fateFrom = (word: string): Fate | undefined =>
  word === "stays" || word === "finishes-there"
    ? { kind: word }
    : word.startsWith("to ")
      ? { kind: "moves", to: word.slice(3) }
      : undefined;

function FateChoice({
  label,
  state,
  workflow,
  fate,
  inherit,
  onChange,
}: {
  label: string;
  state: string;
  workflow: Workflow;
  fate: Fate | null | undefined;
  inherit?: string;
  onChange(fate: Fate | undefined): void;
}) {
  const stays = workflow.states.some((one) => one.key === state && !one.bypass);
  return (
    <Select
      aria-label={label}
      value={wordOf(fate)}
      className={`h-7 w-44 rounded border bg-paper px-1.5 text-13 ${fate || inherit ? "border-track" : "border-red"}`}
      onChoose={(value) => onChange(fateFrom(value))}
    >
      <Option value="">{inherit ?? "choose …"}</Option>
      {stays && <Option value="stays">stay</Option>}
      {workflow.states
        .filter((one) => one.key !== state && !one.bypass && mayLand(one))
        .map((one) => (
          <Option key={one.key} value={`to ${one.key}`}>
            move to {one.name}
          </Option>
        ))}
      <Option value="finishes-there">finish on their revision</Option>
    </Select>
  );
}

/** The pieces of one state: what becomes of them, and of each one where it is to be otherwise. */
function Group({
  group,
  workflow,
  before,
  fate,
  own,
  onFate,
  onPiece,
}: {
  group: FateGroup;
  workflow: Workflow;
  before: Workflow;
  fate: Fate | null | undefined;
  own: Fates;
  onFate(fate: Fate | undefined): void;
  onPiece(id: string, fate: Fate | undefined): void;
}) {
  const rounds = roundWords(group, workflow, before, fate);
  return (
    <li className="border-b border-rule py-2 text-13">
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
        <span className="w-44 font-semibold">
          {group.state.name} <span className="font-normal text-rail">revision {group.revision}</span>
        </span>
        <span className="w-20">{group.count === 1 ? "1 piece" : `${group.count} pieces`}</span>
        <FateChoice
          label={`Pieces in ${group.state.name}`}
          state={group.state.key}
          workflow={workflow}
          fate={fate}
          onChange={onFate}
        />
        <span className={fate ? "text-rail" : "font-semibold text-red"}>
          {[fate && fate === group.fate ? group.because : fate ? "" : `blocked: ${group.because}`, rounds]
            .filter(Boolean)
            .join(" · ")}
        </span>
      </div>
      {group.pieces.length > 0 && (
        <Fold
          className="mt-1"
          summary={<>One by one{group.pieces.length < group.count ? `, ${group.pieces.length} of them` : ""}</>}
        >
          <ul className="mt-1">
            {group.pieces.map((piece) => (
              <li key={piece.id} className="flex flex-wrap items-center justify-between gap-2 py-1">
                <span className="min-w-0 truncate">
                  <a className="hover:text-blue" href={`/pieces/${piece.slug}`}>
                    {piece.title}
                  </a>{" "}
                  <span className="text-rail">
                    {piece.author}, here since <When at={piece.since} />
                  </span>
                </span>
                <FateChoice
                  label={`“${piece.title}”`}
                  state={group.state.key}
                  workflow={workflow}
                  fate={own[piece.id]}
                  inherit="as the others"
                  onChange={(next) => onPiece(piece.id, next)}
                />
              </li>
            ))}
          </ul>
        </Fold>
      )}
    </li>
  );
}

const ROUND_WORDS = {
  continues: "open reviews go on",
  restarts: "open reviews begin again",
  closes: "open reviews close",
} as const;

function roundWords(group: FateGroup, workflow: Workflow, before: Workflow, fate: Fate | null | undefined): string {
  if (group.state.kind !== "review" || !fate) return "";
  const to = landing(workflow, group.state.key, fate);
  if (!to) return ROUND_WORDS.continues;
  const from = before.states.find((state) => state.key === group.state.key);
  return from ? ROUND_WORDS[roundFate(from, to)] : group.rounds ? ROUND_WORDS[group.rounds] : "";
}

import { Form, Link, useNavigation, useSearchParams } from "react-router";
import { Button } from "#app/ui/button.tsx";
import { ChoiceForm } from "#app/ui/choice-form.tsx";
import { DayField } from "#app/ui/date-field.tsx";
import { Option, SelectField } from "#app/ui/select.tsx";
import { useLastAnswer } from "#app/views/frame/last-answer.ts";
import { PieceField } from "#app/views/people/grant-fields.tsx";
import { Entry } from "#app/views/publication/record-entry.tsx";
import type { Route } from "../../routes/+types/publication-record.ts";

/** Everything that happened, narrowed, unfolded, verified, taken along. */
export function RecordView({ loaderData, actionData: answer }: Route.ComponentProps) {
  const actionData = useLastAnswer(answer);
  const { rows, next } = loaderData;
  const [words] = useSearchParams();
  const busy = useNavigation().state === "submitting";
  const filtered = [...words.keys()].some((key) => key !== "before" && words.get(key));
  const further = new URLSearchParams(words);
  if (next) further.set("before", String(next));
  const file = (as: string) => `/publication/record/file?${new URLSearchParams({ ...Object.fromEntries(words), as })}`;
  return (
    <div className="px-4 py-5 md:px-6">
      <div className="flex flex-wrap items-center gap-3">
        <h1 className="mr-auto">The record</h1>
        <span className="text-13">
          As a file:{" "}
          <a className="font-semibold text-blue" href={file("csv")} download>
            CSV
          </a>
          {" · "}
          <a className="font-semibold text-blue" href={file("jsonl")} download>
            JSON Lines
          </a>
        </span>
        <Form method="post" preventScrollReset>
          <Button busy={busy}>{busy ? "Following the chain …" : "Verify it"}</Button>
        </Form>
      </div>
      {actionData && (
        <p role="status" className={`mt-2 text-13 ${actionData.broken ? "font-semibold text-red" : ""}`}>
          {actionData.broken
            ? `The record was tampered with: ${actionData.broken}.`
            : `All ${actionData.entries.toLocaleString("en")} entries follow one another unbroken, and all ${actionData.versions.toLocaleString("en")} versions are what was saved.`}
        </p>
      )}
      <Filters {...loaderData} filtered={filtered} />
      {rows.length === 0 ? (
        <p className="mt-4 text-rail">{filtered ? "Nothing on record fits this." : "Nothing has happened yet."}</p>
      ) : (
        <ol aria-label="Entries" className="border-t border-ink">
          {rows.map((row) => (
            <Entry key={row.seq} row={row} />
          ))}
        </ol>
      )}
      {next && (
        <p className="mt-3">
          <Link to={`?${further}`} className="font-semibold text-blue">
            Earlier
          </Link>
        </p>
      )}
    </div>
  );
}

function Filters({ people, actions, filtered }: Route.ComponentProps["loaderData"] & { filtered: boolean }) {
  const [words] = useSearchParams();
  const value = (key: string) => words.get(key) ?? "";
  return (
    <ChoiceForm
      key={words.toString()}
      label="Narrow the record"
      className="my-4 grid max-w-240 grid-cols-2 items-end gap-3 md:grid-cols-[1fr_1fr_1.4fr_144px_144px_auto_auto]"
    >
      <SelectField label="Who" name="person" defaultValue={value("person")}>
        <Option value="">everybody</Option>
        {people.map((one) => (
          <Option key={one.key} value={one.key}>
            {one.name}
          </Option>
        ))}
      </SelectField>
      <SelectField label="What" name="action" defaultValue={value("action")}>
        <Option value="">everything</Option>
        {actions.map((one) => (
          <Option key={one} value={one}>
            {one.endsWith(".") ? `all about ${one.slice(0, -1)}` : one}
          </Option>
        ))}
      </SelectField>
      <PieceField name="piece" value={value("piece")} optional />
      <DayField label="From" name="from" defaultValue={value("from")} />
      <DayField label="Until" name="until" defaultValue={value("until")} />
      <Button className="mb-0.5">Show</Button>
      {filtered && (
        <Link to="?" className="mb-1.5 text-13 font-semibold text-blue">
          Everything
        </Link>
      )}
    </ChoiceForm>
  );
}

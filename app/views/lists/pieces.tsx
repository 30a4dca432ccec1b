import { Form, Link, useSearchParams, useSubmit } from "react-router";
import { Button, ButtonLink } from "#app/ui/button.tsx";
import { Checkbox, Input } from "#app/ui/field.tsx";
import { Option, Select } from "#app/ui/select.tsx";
import { Strip } from "#app/views/line/strip.tsx";
import { Due } from "#app/views/time/clock.tsx";
import type { filterChoices } from "#server/pieces/lists.ts";
import type { Route } from "../../routes/+types/pieces.ts";

/** Every piece one may see, narrowed by the words of the address. */
export function PiecesView({ loaderData }: Route.ComponentProps) {
  const { rows, total, more, next, choices, mayBegin, deletes } = loaderData;
  const [words] = useSearchParams();
  const filtered = [...words.keys()].some((key) => words.get(key));
  const further = new URLSearchParams(words);
  if (next) further.set("after", next);
  return (
    <div className="px-4 py-5 md:px-6">
      <div className="flex flex-wrap items-start gap-3">
        <h1 className="mr-auto">
          {total === 1 ? "One piece" : `${more ? "More than " : ""}${total || "No"} pieces`}{" "}
          <span className="text-15 font-normal text-rail">{shown(words.get("show") ?? "")}</span>
        </h1>
        {mayBegin && <ButtonLink to="/pieces/new">New piece</ButtonLink>}
      </div>
      <Filters choices={choices} filtered={filtered} deletes={deletes} />
      {rows.length === 0 ? (
        <p className="mt-6 text-rail">
          {filtered ? "Nothing fits these words." : "Nothing is in flight that you may see."}
        </p>
      ) : (
        <ul aria-label="Pieces" className="border-t border-ink">
          {rows.map((row) => (
            <li
              key={row.id}
              data-row
              className="grid items-center gap-x-4 border-b border-rule py-0.5 focus-within:bg-wash sm:grid-cols-[minmax(0,1fr)_120px] lg:-mx-6 lg:grid-cols-[minmax(0,300px)_124px_minmax(0,1fr)_148px] lg:px-6"
            >
              <div className="min-w-0">
                <Link to={`/pieces/${row.slug}`} className="block truncate font-semibold hover:text-blue">
                  {row.title}
                </Link>
                <p className="truncate text-13 text-rail">
                  {[row.urgency === "urgent" && "urgent", row.private && "private", row.kind, row.author]
                    .filter(Boolean)
                    .join(" · ")}
                </p>
              </div>
              <p className="narrow min-w-0 text-13">
                <b className="block truncate font-semibold">{row.state}</b>
                <span className="block truncate text-rail">{row.section}</span>
              </p>
              <div className="hidden min-w-0 lg:block">
                <Strip stops={row.stops} seats={row.seats} />
              </div>
              <div className="hidden lg:block">
                {row.stateKind === "live" ? <span className="text-13 text-rail">live</span> : <Due at={row.dueAt} />}
              </div>
            </li>
          ))}
        </ul>
      )}
      <p className="mt-4 flex gap-4 text-13">
        {words.has("after") && (
          <Link className="text-blue underline" to={`?${without(words, "after")}`}>
            From the beginning
          </Link>
        )}
        {next && (
          <Link className="text-blue underline" to={`?${further}`}>
            Further pieces
          </Link>
        )}
      </p>
    </div>
  );
}

const SHOWN: Record<string, string> = { live: "live", all: "in all" };

const shown = (word: string) => (Object.hasOwn(SHOWN, word) ? SHOWN[word] : "in flight");

function Filters({
  choices,
  filtered,
  deletes,
}: {
  choices: Awaited<ReturnType<typeof filterChoices>>;
  filtered: boolean;
  deletes: boolean;
}) {
  const [words] = useSearchParams();
  const submit = useSubmit();
  const select = (name: string, every: string, options: { key: string; name: string }[]) => (
    <Select
      key={`${name}-${words.get(name)}`}
      name={name}
      aria-label={every}
      defaultValue={words.get(name) ?? ""}
      className="max-w-44"
    >
      <Option value="">{every}</Option>
      {options.map((option) => (
        <Option key={option.key} value={option.key}>
          {option.name}
        </Option>
      ))}
    </Select>
  );
  return (
    <Form
      className="my-3 flex flex-wrap items-center gap-2 text-13"
      onChange={(event) => submit(event.currentTarget, { replace: true })}
    >
      <Input
        look="small"
        key={words.get("words")}
        type="search"
        name="words"
        aria-label="Words in the title"
        placeholder="Words in the title"
        defaultValue={words.get("words") ?? ""}
        onChange={(event) => event.stopPropagation()}
        className="w-44"
      />
      {select("show", "In flight", [
        { key: "live", name: "Live" },
        { key: "all", name: "All" },
      ])}
      {select("section", "Every section", choices.sections)}
      {select("state", "Every state", choices.states)}
      {select("author", "Every author", choices.authors)}
      {select("flag", "Flagged or not", [
        { key: "stuck", name: "Review stuck" },
        { key: "overridden", name: "Moved past its rules" },
      ])}
      <Checkbox key={words.get("late")} name="late" value="yes" defaultChecked={words.get("late") === "yes"}>
        late only
      </Checkbox>
      <Button look="quiet">Show</Button>
      {filtered && (
        <Link to="/pieces" className="text-blue underline">
          Clear
        </Link>
      )}
      {deletes && (
        <Link to="/pieces/deleted" className="ml-auto text-rail underline underline-offset-3 hover:text-blue">
          Deleted pieces
        </Link>
      )}
    </Form>
  );
}

function without(words: URLSearchParams, key: string): URLSearchParams {
  const rest = new URLSearchParams(words);
  rest.delete(key);
  return rest;
}

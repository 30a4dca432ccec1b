import { useMemo } from "react";
import { Link, useSearchParams } from "react-router";
import type { FormAnswer } from "#app/form-answer.ts";
import { Button, ButtonLink, TextLink } from "#app/ui/button.tsx";
import { ChoiceForm } from "#app/ui/choice-form.tsx";
import { Checkbox, Input } from "#app/ui/field.tsx";
import { Empty } from "#app/ui/message.tsx";
import { Page } from "#app/ui/page.tsx";
import { Row, Rows } from "#app/ui/rows.tsx";
import { Option, Select } from "#app/ui/select.tsx";
import { Strip } from "#app/views/line/strip.tsx";
import { Due } from "#app/views/time/clock.tsx";
import type { Route } from "../../routes/+types/pieces.ts";
import { ChooseBox, ChosenBar } from "./choosing.tsx";
import { type Choosing, useChoosing } from "./chosen.ts";
import { Found } from "./found.tsx";
import { KeptFilter } from "./kept-filter.tsx";

type PiecesPage = Route.ComponentProps["loaderData"];

/** Every piece one may see, narrowed by the words of the address. */
export function PiecesView({ page, answer }: { page: PiecesPage; answer: FormAnswer | null }) {
  const { rows, total, more, next, mayBegin } = page;
  const [words] = useSearchParams();
  const narrowed = narrowing(words);
  const ids = useMemo(() => rows.map((row) => row.id), [rows]);
  const choosing = useChoosing(ids);
  return (
    <Page
      title={
        <>
          {total === 1 ? "One piece" : `${more ? "More than " : ""}${total || "No"} pieces`}{" "}
          <span className="text-15 font-normal text-rail">{SHOWN.get(words.get("show")) ?? "in flight"}</span>
        </>
      }
      act={mayBegin && <ButtonLink to="/pieces/new">New piece</ButtonLink>}
    >
      <Filters page={page} narrowed={narrowed} answer={answer} />
      {rows.length === 0 ? (
        <Empty act={narrowed && <TextLink to="/pieces">Show everything in flight</TextLink>}>
          {narrowed ? "Nothing fits these words." : "Nothing is in flight that you may see."}
        </Empty>
      ) : (
        <Rows aria-label="Pieces">
          {rows.map((row) => (
            <PieceRow key={row.id} row={row} choosing={choosing} />
          ))}
        </Rows>
      )}
      <p className="mt-4 flex gap-4 text-13">
        {words.has("after") && <TextLink to={`?${set(words, "after", null)}`}>From the beginning</TextLink>}
        {next && <TextLink to={`?${set(words, "after", next)}`}>Further pieces</TextLink>}
      </p>
      <ChosenBar choosing={choosing} shown={ids} {...(!more && { all: { query: narrowed, total } })} />
    </Page>
  );
}

/** A piece in one row; on a narrow screen its way and its date stay, smaller. */
function PieceRow({ row, choosing }: { row: PiecesPage["rows"][number]; choosing: Choosing }) {
  return (
    <Row className="row-apart grid grid-cols-[minmax(0,1fr)_auto] items-center gap-x-4 py-0.5 sm:grid-cols-[minmax(0,1fr)_120px_130px] lg:-mx-6 lg:grid-cols-[minmax(0,300px)_124px_minmax(0,1fr)_148px] lg:px-6">
      <div className="relative col-span-2 min-w-0 pl-7 sm:col-span-1">
        <span className="absolute left-0 top-0.5 -ml-1">
          <ChooseBox id={row.id} title={row.title} choosing={choosing} />
        </span>
        <Link
          to={`/pieces/${row.slug}`}
          prefetch="intent"
          aria-label={`${row.title}, ${row.kind}, ${row.state}`}
          className="block truncate font-semibold hover:text-blue"
        >
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
      <div className="order-last col-span-full min-w-0 lg:order-none lg:col-span-1">
        <Strip stops={row.stops} seats={row.seats} />
      </div>
      <div className="max-sm:text-right">
        {row.stateKind === "live" ? <span className="text-13 text-rail">live</span> : <Due at={row.dueAt} />}
      </div>
      {row.hit && <Found hit={row.hit} />}
    </Row>
  );
}

const SHOWN = new Map<string | null, string>([
  ["live", "live"],
  ["all", "in all"],
]);

/** The words of the address that narrow the list, as they are kept. */
function narrowing(words: URLSearchParams): string {
  const kept = new URLSearchParams([...words].filter(([key, value]) => key !== "after" && value !== ""));
  kept.sort();
  return kept.toString();
}

function set(words: URLSearchParams, key: string, value: string | null): URLSearchParams {
  const next = new URLSearchParams(words);
  next.delete(key);
  if (value !== null) next.set(key, value);
  return next;
}

function Filters({ page, narrowed, answer }: { page: PiecesPage; narrowed: string; answer: FormAnswer | null }) {
  const { choices, deletes, kept } = page;
  const [words] = useSearchParams();
  const choice = (name: string, every: string, options: readonly { key: string; name: string }[]) => (
    <Select
      key={`${name}-${words.get(name)}`}
      name={name}
      aria-label={every}
      defaultValue={words.get(name) ?? ""}
      className={`max-w-44 ${words.get(name) ? "border-ink! font-semibold" : ""}`}
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
    <div className="my-3 flex items-center gap-2 py-1 text-13 max-sm:-mx-4 max-sm:overflow-x-auto max-sm:px-4 sm:flex-wrap [&>*]:shrink-0">
      <ChoiceForm label="Narrow the pieces" className="contents">
        <Input
          look="small"
          key={words.get("words")}
          type="search"
          name="words"
          aria-label="Words in titles, texts, comments and files"
          placeholder="Words"
          defaultValue={words.get("words") ?? ""}
          className="w-44"
        />
        {choice("show", "In flight", [
          { key: "live", name: "Live" },
          { key: "all", name: "All" },
        ])}
        {choice("section", "Every section", choices.sections)}
        {choice("state", "Every state", choices.states)}
        {choice("author", "Every author", choices.authors)}
        {choice("flag", "Flagged or not", [
          { key: "stuck", name: "Review stuck" },
          { key: "overridden", name: "Moved past its rules" },
        ])}
        {choice("within", "At any time", [
          { key: "7", name: "Moved in 7 days" },
          { key: "30", name: "Moved in 30 days" },
          { key: "365", name: "Moved in a year" },
        ])}
        {choice("sort", "Latest moved first", [
          { key: "due", name: "First due first" },
          { key: "title", name: "By title" },
        ])}
        <Checkbox
          key={`plan-${words.get("plan")}`}
          name="plan"
          value="late"
          defaultChecked={words.get("plan") === "late"}
        >
          late by plan
        </Checkbox>
        <Checkbox key={words.get("late")} name="late" value="yes" defaultChecked={words.get("late") === "yes"}>
          late only
        </Checkbox>
        <Button look="quiet">Show</Button>
      </ChoiceForm>
      {narrowed && <TextLink to="/pieces">Clear</TextLink>}
      {narrowed && <KeptFilter query={narrowed} kept={kept} answer={answer} />}
      {deletes && (
        <TextLink to="/pieces/deleted" className="ml-auto text-rail!">
          Deleted pieces
        </TextLink>
      )}
    </div>
  );
}

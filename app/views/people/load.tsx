import { Link, useSearchParams, useSubmit } from "react-router";
import type { FormAnswer } from "#app/form-answer.ts";
import { ActionForm, useBusy } from "#app/ui/action-form.tsx";
import { Button, TextLink } from "#app/ui/button.tsx";
import { ChoiceForm } from "#app/ui/choice-form.tsx";
import { DragArea, useCarried, useLanding } from "#app/ui/drag.tsx";
import { NumberInput } from "#app/ui/field.tsx";
import { Aside, Empty, Message } from "#app/ui/message.tsx";
import { Page, Part } from "#app/ui/page.tsx";
import { Row, Rows } from "#app/ui/rows.tsx";
import { Option, Select } from "#app/ui/select.tsx";
import { useClock, When } from "#app/views/time/clock.tsx";
import { sayDate } from "#core/time/words.ts";
import { counted, list } from "#core/words/say.ts";
import type { Item } from "#server/load/queries.ts";
import type { Route } from "../../routes/+types/load.ts";
import { sendsOf } from "./moving.ts";

type Data = Route.ComponentProps["loaderData"];
type Person = Data["people"][number];

const keyOf = ({ sort, id, personId }: Item) => `${sort} ${id} ${personId}`;

/** Who has how much in the days ahead, what is too much, and what to hand to whom. */
export function LoadView({ page, answer }: { page: Data; answer: FormAnswer | null }) {
  const { people, items } = page;
  const [words] = useSearchParams();
  const chosen = people.find((one) => one.id === words.get("who"));
  const submit = useSubmit();
  const named = (id: string) => people.find((one) => one.id === id)?.name ?? "";
  const nameOf = (id: string) => items.find((one) => keyOf(one) === id)?.title ?? named(id);
  const hand = (key: string, to: string) => {
    const item = items.find((one) => keyOf(one) === key);
    if (item?.able.includes(to))
      submit({ intent: "move", ...sendsOf(item), personId: to }, { method: "post", preventScrollReset: true });
  };
  const much = people.filter((one) => items.filter((item) => item.personId === one.id).length > one.limit);
  return (
    <Page
      title="Load"
      about={
        much.length === 0
          ? "Nobody has more than is enough for them."
          : `${list(much.map((one) => `${one.name} (${items.filter((item) => item.personId === one.id).length} of ${one.limit})`))} ${much.length === 1 ? "has" : "have"} too much.`
      }
      act={<Sections page={page} />}
    >
      {answer?.refusal && (
        <div className="mt-3">
          <Message more={answer.refusal.missing ?? []}>{answer.refusal.sentence}</Message>
        </div>
      )}
      {people.length === 0 ? (
        <Empty act={<TextLink to="/pieces">To the pieces</TextLink>}>Nothing waits on anybody here.</Empty>
      ) : (
        <DragArea
          nameOf={nameOf}
          instructions="Carry it to a person with the arrows, and put it there with Enter."
          onDrop={hand}
        >
          <Days page={page} chosen={chosen ?? null} />
          {page.more && <Aside className="mt-2">Only the first due are shown and weighed here.</Aside>}
          <div className="mt-6 grid gap-x-10 gap-y-6 lg:grid-cols-2">
            {chosen ? (
              <Theirs page={page} person={chosen} named={named} />
            ) : (
              <Aside>Choose somebody to see what waits on them, and to hand it on.</Aside>
            )}
            <Even page={page} named={named} answer={answer} />
          </div>
        </DragArea>
      )}
    </Page>
  );
}

function Sections({ page }: { page: Data }) {
  return (
    <ChoiceForm label="Of one section" className="flex items-center gap-2 text-13">
      <Select name="section" aria-label="Every section" defaultValue={page.section ?? ""} className="max-w-60">
        <Option value="">Every section</Option>
        {page.sections.map(({ key, name }) => (
          <Option key={key} value={key}>
            {name}
          </Option>
        ))}
      </Select>
      <Button look="quiet">Show</Button>
    </ChoiceForm>
  );
}

/** People down, working days across: how many things are due on each. */
function Days({ page, chosen }: { page: Data; chosen: Person | null }) {
  const { zone, now } = useClock();
  const { days, items } = page;
  const last = days.at(-1)?.end ?? now;
  return (
    <section
      aria-label="Who has how much, by the day it is due"
      // biome-ignore lint/a11y/noNoninteractiveTabindex: a table wider than its place must scroll by keyboard too
      tabIndex={0}
      className="mt-4 overflow-x-auto"
    >
      <table className="w-full min-w-180 text-13 tabular-nums">
        <thead>
          <tr className="border-y-2 border-ink bg-yellow text-left text-(--on-yellow)">
            <th scope="col" className="py-1 pl-2 font-semibold">
              Who
            </th>
            <th scope="col" className="px-2 py-1 text-right font-semibold">
              In all
            </th>
            <th scope="col" className="px-2 py-1 font-semibold">
              Enough
            </th>
            <th scope="col" className="px-1 py-1 text-center font-semibold">
              Late
            </th>
            {days.map((day) => (
              <th key={day.date} scope="col" className="narrow px-1 py-1 text-center font-semibold">
                {sayDate(day.start, zone, now).replace(/ \d{4}$/, "")}
              </th>
            ))}
            <th scope="col" className="px-1 py-1 text-center font-semibold">
              Later
            </th>
          </tr>
        </thead>
        <tbody>
          {page.people.map((one) => {
            const theirs = items.filter((item) => item.personId === one.id);
            const due = (from: number, until: number) =>
              theirs.filter(({ dueAt }) => dueAt !== null && dueAt >= from && dueAt < until).length;
            const late = due(Number.NEGATIVE_INFINITY, now);
            return (
              <tr key={one.id} className={`border-b border-rule ${chosen?.id === one.id ? "bg-wash" : ""}`}>
                <Who person={one} section={page.section} />
                <td className={`px-2 text-right ${theirs.length > one.limit ? "font-semibold text-red" : ""}`}>
                  {theirs.length}
                  {theirs.length > one.limit && <span className="sr-only"> too much</span>}
                </td>
                <td className="px-2">{page.mayLimit ? <Limit person={one} /> : one.limit}</td>
                <td className={`px-1 text-center ${late > 0 ? "font-semibold text-red" : "text-rail"}`}>
                  {late || "·"}
                </td>
                {days.map((day) => (
                  <Cell
                    key={day.date}
                    count={due(Math.max(now, day.start), day.end)}
                    away={one.away.includes(day.date)}
                  />
                ))}
                <Cell
                  count={due(last, Number.POSITIVE_INFINITY) + theirs.filter((item) => item.dueAt === null).length}
                />
              </tr>
            );
          })}
        </tbody>
      </table>
    </section>
  );
}

/** Somebody, where what is carried can be put. */
function Who({ person, section }: { person: Person; section: string | null }) {
  const { place, isOver } = useLanding(person.id);
  const to = new URLSearchParams({ ...(section && { section }), who: person.id });
  return (
    <th
      ref={place}
      scope="row"
      data-row
      className={`py-1.5 pl-2 pr-3 text-left font-normal focus-within:bg-wash ${isOver ? "outline-2 outline-blue" : ""}`}
    >
      <Link to={`?${to}`} preventScrollReset className="font-semibold hover:text-blue">
        {person.name}
      </Link>
    </th>
  );
}

const Cell = ({ count, away = false }: { count: number; away?: boolean }) => (
  <td className={`px-1 text-center ${away ? "bg-platform" : ""} ${count > 0 ? "font-semibold" : "text-rail"}`}>
    {count > 0 ? count : away ? "" : "·"}
    {away && <span className={count > 0 ? "block text-12 font-normal text-rail" : "text-12 text-rail"}>away</span>}
  </td>
);

function Limit({ person }: { person: Person }) {
  return (
    <ActionForm
      intent="limit"
      label={`Enough for ${person.name}`}
      answer={null}
      sends={{ personId: person.id }}
      className="contents"
    >
      <NumberInput
        key={person.limit}
        name="limit"
        aria-label={`Enough for ${person.name}`}
        min={0}
        max={200}
        step={1}
        required
        defaultValue={person.limit}
        className="w-14! py-0!"
        onBlur={({ currentTarget: field }) => {
          if (field.value !== String(person.limit) && field.checkValidity()) field.form?.requestSubmit();
        }}
      />
    </ActionForm>
  );
}

/** What waits on somebody, each with whom it could go to. */
function Theirs({ page, person, named }: { page: Data; person: Person; named(id: string): string }) {
  const theirs = page.items.filter((item) => item.personId === person.id);
  return (
    <Part title={`What waits on ${person.name}`} about={counted(theirs.length, "thing")} className="">
      {theirs.length === 0 && <Aside className="mt-1">Nothing.</Aside>}
      <Rows className="">
        {theirs.map((item) => (
          <Thing key={keyOf(item)} item={item} named={named} />
        ))}
      </Rows>
    </Part>
  );
}

function Thing({ item, named }: { item: Item; named(id: string): string }) {
  const { thing, handle, isCarried } = useCarried(keyOf(item), item.able.length === 0);
  const busy = useBusy("move");
  return (
    <Row
      ref={thing}
      className={`flex flex-wrap items-center justify-between gap-x-4 gap-y-1 py-1.5 text-13 ${isCarried ? "opacity-60" : ""}`}
    >
      <span className="min-w-0">
        <Link to={`/pieces/${item.slug}`} className="font-semibold hover:text-blue">
          {item.title}
        </Link>
        <span className="block text-rail">
          {item.state}
          {item.sort === "assigned" && ", assigned"} ·{" "}
          {item.dueAt === null ? (
            "without a date"
          ) : (
            <>
              due <When at={item.dueAt} />
            </>
          )}
        </span>
      </span>
      {item.able.length === 0 ? (
        <span className="text-rail">nobody else may have it</span>
      ) : (
        <span className="flex items-center gap-2">
          <Button
            ref={handle}
            type="button"
            look="bare"
            aria-label={`Carry ${item.title} to somebody`}
            className="cursor-grab px-1 text-rail"
          >
            ⠿
          </Button>
          <ActionForm
            intent="move"
            label={`Hand on ${item.title}`}
            answer={null}
            sends={sendsOf(item)}
            className="contents"
          >
            <Select
              key={item.personId}
              name="personId"
              aria-label={`Hand ${item.title} to`}
              defaultValue=""
              className="max-w-44"
            >
              <Option value="">hand it to …</Option>
              {item.able.map((id) => (
                <Option key={id} value={id}>
                  {named(id)}
                </Option>
              ))}
            </Select>
            <Button busy={busy} aria-label={`Hand on: ${item.title}`}>
              Hand on
            </Button>
          </ActionForm>
        </span>
      )}
    </Row>
  );
}

/** What to hand to whom so that nobody has too much, with the fewest moves. */
function Even({ page, named, answer }: { page: Data; named(id: string): string; answer: FormAnswer | null }) {
  const busy = useBusy("even");
  const moves = page.moves.slice(0, page.most);
  const done = answer?.intent === "even" && !answer.refusal;
  if (moves.length === 0)
    return (
      <Part title={page.over === 0 ? "Evened out" : "Even out"} className="">
        <Aside className="mt-1">
          {done && "It is done, and everybody concerned is told. "}
          {page.over === 0 ? "Nothing needs to be moved." : "Nobody else may have what is too much."}
        </Aside>
      </Part>
    );
  return (
    <Part title="Even out" about={counted(page.moves.length, "move")} className="">
      <Aside className="mt-1">
        {page.over === 0 ? "Then nobody has too much." : `Then ${counted(page.over, "thing")} too much is left.`} Each
        goes to somebody its workflow names; both, and the author, are told.
      </Aside>
      <Rows className="mt-2 border-t border-rule">
        {moves.map(({ item, to }) => (
          <Row key={keyOf(item)} className="flex flex-wrap items-center justify-between gap-x-4 py-1.5 text-13">
            <span className="min-w-0">
              <b className="font-semibold">{item.title}</b>
              <span className="block text-rail">
                {named(item.personId)} → {named(to)}
              </span>
            </span>
            <ActionForm
              intent="move"
              label={`Move ${item.title}`}
              answer={null}
              sends={{ ...sendsOf(item), personId: to }}
              className="contents"
            >
              <Button busy={busy} aria-label={`Move ${item.title} to ${named(to)}`}>
                Move
              </Button>
            </ActionForm>
          </Row>
        ))}
      </Rows>
      <ActionForm
        intent="even"
        label="All of them"
        answer={null}
        sends={{ moves: JSON.stringify(moves.map(({ item, to }) => ({ ...sendsOf(item), personId: to }))) }}
        className="mt-3"
      >
        <Button look="go" busy={busy}>
          {moves.length === 1 ? "Move it" : `Move all ${moves.length}`}
        </Button>
      </ActionForm>
    </Part>
  );
}

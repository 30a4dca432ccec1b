import { useEffect, useState } from "react";
import { Button } from "#app/ui/button.tsx";
import { Combobox } from "#app/ui/combobox.tsx";
import { DayInput } from "#app/ui/date-field.tsx";
import { Area, Input } from "#app/ui/field.tsx";
import { Option, Select } from "#app/ui/select.tsx";
import { type Found, useFound } from "#app/views/frame/found.ts";
import type { Field } from "#core/text/field.ts";
import type { Value } from "#core/text/fields.ts";
import { type Picture, safeAddress, webAddress } from "#core/text/manuscript.ts";
import type { Names } from "#core/text/values.ts";
import type { Home } from "./asking.tsx";
import { FileDialog } from "./file-dialog.tsx";
import { PictureDialog } from "./picture-dialog.tsx";
import { SmallPicture } from "./small-picture.tsx";

interface Props {
  id: string;
  field: Field;
  value: Value | undefined;
  /** The titles of pieces and the names of files, by their id. */
  names: Names;
  home: Home;
  onChange(value: Value | undefined): void;
}

/** Where one writes what a field holds, by its type. Empty, it holds nothing. */
export function FieldInput(props: Props) {
  const { id, field, value, onChange } = props;
  const shared = { id, "aria-describedby": `${id}-limit` };
  const words = typeof value === "string" ? value : "";
  const set = (next: string) => onChange(next === "" ? undefined : next);
  switch (field.type) {
    case "number":
      return <NumberInput {...props} />;
    case "link":
      return <LinkInput {...props} />;
    case "piece":
      return <PieceInput {...props} />;
    case "image":
      return <PictureInput {...props} />;
    case "file":
      return <FileInput {...props} />;
    case "date":
      return <DateInput {...props} />;
    case "choice":
      return (
        <Select look="page" {...shared} value={words} onChoose={set}>
          <Option value="">{field.guidance ?? "—"}</Option>
          {[...(field.options ?? []), ...(words && !field.options?.includes(words) ? [words] : [])].map((option) => (
            <Option key={option}>{option}</Option>
          ))}
        </Select>
      );
    default:
      return (
        <Area
          look="page"
          {...shared}
          rows={1}
          value={words}
          placeholder={field.guidance ?? "—"}
          onChange={(event) => set(event.target.value.replace(/\n/g, " "))}
        />
      );
  }
}

/** Keeps what is typed as it is typed; only what is a number is passed on. */
function NumberInput({ id, field, value, onChange }: Props) {
  const [typed, setTyped] = useState(value === undefined ? "" : String(value));
  const number = Number(typed.replace(",", "."));
  const wrong = typed.trim() !== "" && !Number.isFinite(number);
  useEffect(() => {
    setTyped((was) => (Number(was.replace(",", ".")) === value ? was : value === undefined ? was : String(value)));
  }, [value]);
  return (
    <>
      <span className="flex items-baseline gap-1">
        <Input
          look="page"
          id={id}
          inputMode="decimal"
          value={typed}
          placeholder={field.guidance ?? "—"}
          aria-describedby={`${id}-limit`}
          aria-invalid={wrong || undefined}
          onChange={(event) => {
            const next = event.target.value;
            setTyped(next);
            const read = Number(next.replace(",", "."));
            if (next.trim() === "") onChange(undefined);
            else if (Number.isFinite(read)) onChange(read);
          }}
          className="field-sizing-content w-auto! min-w-14 max-w-full"
        />
        {field.unit && <span className="text-rail">{field.unit}</span>}
      </span>
      {wrong && <NotTaken>This is no number; it is not saved.</NotTaken>}
    </>
  );
}

/** Keeps what is typed; only what is an address is passed on. */
function LinkInput({ id, field, value, onChange }: Props) {
  const [typed, setTyped] = useState(typeof value === "string" ? value : "");
  const wrong = typed !== "" && !safeAddress(webAddress(typed));
  return (
    <>
      <Input
        look="page"
        id={id}
        type="url"
        value={typed}
        placeholder={field.guidance ?? "https://"}
        aria-describedby={`${id}-limit`}
        aria-invalid={wrong || undefined}
        onBlur={() => setTyped(webAddress)}
        onChange={(event) => {
          const next = event.target.value.trim();
          setTyped(next);
          if (next === "") onChange(undefined);
          else if (safeAddress(webAddress(next))) onChange(webAddress(next));
        }}
      />
      {wrong && <NotTaken>An address begins with https://, mailto: or /; it is not saved.</NotTaken>}
    </>
  );
}

/** Keeps what is typed; only what is a day is passed on. */
function DateInput({ id, value, onChange }: Props) {
  const [typed, setTyped] = useState(typeof value === "string" ? value : "");
  const wrong = typed !== "" && !ISO_DAY.test(typed);
  return (
    <>
      <DayInput
        look="page"
        id={id}
        aria-describedby={`${id}-limit`}
        value={typed}
        onChange={(next) => {
          setTyped(next);
          if (next === "") onChange(undefined);
          else if (ISO_DAY.test(next)) onChange(next);
        }}
      />
      {wrong && <NotTaken>This is no date; it is not saved.</NotTaken>}
    </>
  );
}

const ISO_DAY = /^\d{4}-\d\d-\d\d$/;

/** What was typed and a field does not take. */
const NotTaken = ({ children }: { children: string }) => (
  <span className="block text-12 font-semibold text-red">{children}</span>
);

/** Finds another piece by words of its title. */
function PieceInput({ id, field, value, names, onChange }: Props) {
  const [chosen, setChosen] = useState<Found | null>(null);
  const [words, setWords] = useState<string | null>(null);
  const { found, settled } = useFound(words?.trim() ? words : null);
  const title = typeof value === "string" ? (names[value] ?? (chosen?.key === value ? chosen.name : null)) : "";
  return (
    <Combobox
      id={id}
      look="page"
      aria-describedby={`${id}-limit`}
      placeholder={field.guidance ?? "Words of its title"}
      chosen={title ?? "a piece you cannot see"}
      suggestions={found.filter((one) => one.slug !== null)}
      settled={settled}
      none="No piece you may see has these words."
      onType={setWords}
      onChoose={(one) => {
        setChosen(one);
        onChange(one?.key);
      }}
    />
  );
}

/** A picture of the field's own; a dialog asks for it and its words. */
function PictureInput({ id, field, value, home, onChange }: Props) {
  const [asking, setAsking] = useState<"another" | "words" | null>(null);
  const picture = typeof value === "object" ? (value as Picture) : null;
  return (
    <div id={id}>
      {picture && <SmallPicture picture={picture} />}
      <div className="-ml-2 flex flex-wrap">
        <Quiet
          label={`${picture ? "Another picture" : "Add a picture"} for ${field.name}`}
          onClick={() => setAsking("another")}
        >
          {picture ? "Another" : "Add a picture"}
        </Quiet>
        {picture && (
          <>
            <Quiet label={`Words of ${field.name}`} onClick={() => setAsking("words")}>
              Words
            </Quiet>
            <Quiet label={`Take out ${field.name}`} onClick={() => onChange(undefined)}>
              Take out
            </Quiet>
          </>
        )}
      </div>
      {!picture && field.guidance && <p className="text-12 text-rail">{field.guidance}</p>}
      {asking && (
        <PictureDialog
          home={home}
          shown={asking === "words" ? picture : null}
          onDone={(next) => {
            onChange(next);
            setAsking(null);
          }}
          onLeave={() => setAsking(null)}
        />
      )}
    </div>
  );
}

/** One of the piece's files, which readers can fetch. */
function FileInput({ id, field, value, names, home, onChange }: Props) {
  const [adding, setAdding] = useState(false);
  const chosen = typeof value === "string" ? value : "";
  const present = home.files.filter((one) => one.removedAt === null || one.id === chosen);
  return (
    <>
      <Select
        look="page"
        id={id}
        aria-describedby={`${id}-limit`}
        value={chosen}
        onChoose={(value) => onChange(value || undefined)}
      >
        <Option value="">{field.guidance ?? "—"}</Option>
        {present.map((one) => (
          <Option key={one.id} value={one.id}>
            {one.name}
          </Option>
        ))}
        {chosen && !present.some((one) => one.id === chosen) && (
          <Option value={chosen}>{names[chosen] ?? "a file"}</Option>
        )}
      </Select>
      <div className="-ml-2">
        <Quiet label={`Add a file for ${field.name}`} onClick={() => setAdding(true)}>
          Add a file
        </Quiet>
      </div>
      {adding && (
        <FileDialog
          home={home}
          onDone={(file) => {
            onChange(file);
            setAdding(false);
          }}
          onLeave={() => setAdding(false)}
        />
      )}
    </>
  );
}

function Quiet({ label, onClick, children }: { label: string; onClick(): void; children: string }) {
  return (
    <Button type="button" look="quiet" aria-label={label} onClick={onClick} className="px-2!">
      {children}
    </Button>
  );
}

import { useEffect, useState } from "react";
import { Button } from "#app/ui/button.tsx";
import { addressOf } from "#app/views/text/address.ts";
import type { Field, Value } from "#core/text/fields.ts";
import { type Picture, safeAddress } from "#core/text/manuscript.ts";
import type { Names } from "#core/text/values.ts";
import type { Home } from "./asking.tsx";
import { FileDialog } from "./file-dialog.tsx";
import { PictureDialog } from "./picture-dialog.tsx";

interface Props {
  id: string;
  field: Field;
  value: Value | undefined;
  /** The titles of pieces and the names of files, by their id. */
  names: Names;
  home: Home;
  onChange(value: Value | undefined): void;
}

const look =
  "-mx-1 block w-full rounded border border-transparent bg-transparent px-1 font-semibold placeholder:font-normal placeholder:text-rail hover:border-track focus:border-blue focus:bg-paper aria-invalid:border-red";

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
      return (
        <input {...shared} type="date" value={words} onChange={(event) => set(event.target.value)} className={look} />
      );
    case "choice":
      return (
        <select {...shared} value={words} onChange={(event) => set(event.target.value)} className={look}>
          <option value="">{field.guidance ?? "—"}</option>
          {[...(field.options ?? []), ...(words && !field.options?.includes(words) ? [words] : [])].map((option) => (
            <option key={option}>{option}</option>
          ))}
        </select>
      );
    default:
      return (
        <textarea
          {...shared}
          rows={1}
          value={words}
          placeholder={field.guidance ?? "—"}
          onChange={(event) => set(event.target.value.replace(/\n/g, " "))}
          className={`${look} field-sizing-content resize-none`}
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
        <input
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
          className={`${look} field-sizing-content w-auto! min-w-14 max-w-full`}
        />
        {field.unit && <span className="text-rail">{field.unit}</span>}
      </span>
      {wrong && <span className="block text-12 font-semibold text-red">This is no number; it is not saved.</span>}
    </>
  );
}

/** Keeps what is typed; only what is an address is passed on. */
function LinkInput({ id, field, value, onChange }: Props) {
  const [typed, setTyped] = useState(typeof value === "string" ? value : "");
  const wrong = typed !== "" && !safeAddress(typed);
  return (
    <>
      <input
        id={id}
        type="url"
        value={typed}
        placeholder={field.guidance ?? "https://"}
        aria-describedby={`${id}-limit`}
        aria-invalid={wrong || undefined}
        onChange={(event) => {
          const next = event.target.value.trim();
          setTyped(next);
          if (next === "") onChange(undefined);
          else if (safeAddress(next)) onChange(next);
        }}
        className={look}
      />
      {wrong && (
        <span className="block text-12 font-semibold text-red">
          An address begins with https://, mailto: or /; it is not saved.
        </span>
      )}
    </>
  );
}

interface Suggestion {
  id: string;
  title: string;
}

/** Finds another piece by words of its title. */
function PieceInput({ id, field, value, names, onChange }: Props) {
  const [chosen, setChosen] = useState<Suggestion | null>(null);
  const title = typeof value === "string" ? (names[value] ?? (chosen?.id === value ? chosen.title : null)) : "";
  const known = title ?? "a piece you cannot see";
  const [typed, setTyped] = useState<string | null>(null);
  const [found, setFound] = useState<Suggestion[]>([]);
  useEffect(() => {
    if (typed === null || typed.trim().length < 2) return setFound([]);
    const stop = new AbortController();
    const timer = setTimeout(async () => {
      try {
        const answer = await fetch(`/find?q=${encodeURIComponent(typed)}`, { signal: stop.signal });
        setFound(((await answer.json()) as { pieces: Suggestion[] }).pieces);
      } catch {
        setFound([]);
      }
    }, 150);
    return () => {
      clearTimeout(timer);
      stop.abort();
    };
  }, [typed]);
  const choose = (one: Suggestion | null) => {
    onChange(one?.id);
    setChosen(one);
    setTyped(null);
  };
  return (
    <>
      <input
        id={id}
        value={typed ?? known}
        placeholder={field.guidance ?? "Words of its title"}
        aria-describedby={`${id}-limit`}
        list={`${id}-found`}
        onChange={(event) => {
          const next = event.target.value;
          const one = found.find(({ title }) => title === next);
          if (one) choose(one);
          else if (next === "") choose(null);
          else setTyped(next);
        }}
        onBlur={() => setTyped(null)}
        className={look}
      />
      <datalist id={`${id}-found`}>
        {found.map((one) => (
          <option key={one.id} value={one.title} />
        ))}
      </datalist>
    </>
  );
}

/** A picture beside the text, small, with what is said of it. */
export function SmallPicture({ picture }: { picture: Picture }) {
  return (
    <span className="block">
      <img
        src={addressOf(picture.file, 480)}
        alt={picture.alt}
        className="max-h-40 w-full bg-platform object-contain"
      />
      <span className="mt-0.5 block text-12 font-normal text-rail">
        {[picture.caption, picture.credit].filter(Boolean).join(" · ")}
      </span>
    </span>
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
      <select
        id={id}
        aria-describedby={`${id}-limit`}
        value={chosen}
        onChange={(event) => onChange(event.target.value || undefined)}
        className={look}
      >
        <option value="">{field.guidance ?? "—"}</option>
        {present.map((one) => (
          <option key={one.id} value={one.id}>
            {one.name}
          </option>
        ))}
        {chosen && !present.some((one) => one.id === chosen) && (
          <option value={chosen}>{names[chosen] ?? "a file"}</option>
        )}
      </select>
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

import { type FormEvent, useEffect, useId, useRef, useState } from "react";
import { useRevalidator } from "react-router";
import { type FormAnswer, fieldErrors } from "#app/form-answer.ts";
import { Button } from "#app/ui/button.tsx";
import { SelectField, TextField } from "#app/ui/field.tsx";
import { Message } from "#app/ui/message.tsx";
import { addressOf } from "#app/views/text/address.ts";
import { isPicture, KEPT_BYTES, sayBytes } from "#core/text/files.ts";
import type { Picture } from "#core/text/manuscript.ts";
import type { PieceFile } from "#server/files/queries.ts";

/** The piece files are brought to, and those it has. */
export interface Home {
  id: string;
  slug: string;
  files: readonly PieceFile[];
}

/** Rights one may choose from; any other can be written. */
export const LICENCES = ["Own work", "By permission", "CC BY 4.0", "CC BY-SA 4.0", "Public domain"];

/** Asks what is needed to show a picture: its file where none is given yet, and what readers are told of it. */
export function PictureDialog({
  home,
  dropped = null,
  shown = null,
  onDone,
  onLeave,
}: {
  home: Home;
  /** A file that was dropped or pasted. */
  dropped?: File | null;
  /** The picture whose words are to be changed. */
  shown?: Picture | null;
  onDone(picture: Picture): void;
  onLeave(): void;
}) {
  const [file, setFile] = useState(dropped);
  const [kept, setKept] = useState(shown?.file ?? "");
  const [words, setWords] = useState({
    alt: shown?.alt ?? "",
    caption: shown?.caption ?? "",
    credit: shown?.credit ?? "",
    licence: "",
  });
  const { busy, answer, upload } = useUpload(home);
  const [missing, setMissing] = useState<Partial<Record<string, string>>>({});
  const errors = { ...missing, ...fieldErrors(answer, "attach") } as Partial<Record<string, string>>;
  const pictures = home.files.filter((one) => isPicture(one) && one.removedAt === null);
  const known = home.files.find((one) => one.id === kept);
  const set = (key: keyof typeof words) => (event: { target: { value: string } }) =>
    setWords((was) => ({ ...was, [key]: event.target.value }));
  const choose = (id: string) => {
    setKept(id);
    setFile(null);
    const one = pictures.find((picture) => picture.id === id);
    if (one) setWords((was) => ({ ...was, alt: was.alt || one.description, credit: was.credit || one.credit }));
  };
  const answerIt = async (event: FormEvent) => {
    event.preventDefault();
    event.stopPropagation();
    const wanting = {
      ...(!file && !kept && { file: "Choose a picture." }),
      ...(file && excess(file) && { file: excess(file) }),
      ...(words.alt.trim() === "" && { alt: "Say what it shows: some readers only hear it." }),
      ...(words.credit.trim() === "" && { credit: "Whom it is by." }),
      ...(file && words.licence.trim() === "" && { licence: "By what right it may be shown." }),
    };
    setMissing(wanting);
    if (Object.keys(wanting).length > 0) return;
    const { alt, caption, credit, licence } = words;
    const id = file ? await upload(file, { name: file.name, description: alt, credit, licence }) : kept;
    if (id) onDone({ file: id, alt: alt.trim(), caption: caption.trim(), credit: credit.trim() });
  };
  return (
    <Asking title={shown ? "The picture’s words" : "A picture"} onLeave={onLeave}>
      <form onSubmit={answerIt} noValidate className="space-y-3">
        <Refusal answer={answer} />
        <div className="grid gap-4 sm:grid-cols-[200px_minmax(0,1fr)]">
          <Thumbnail file={file} kept={known} />
          <div className="space-y-3">
            {!dropped && !shown && (
              <>
                <TextField
                  label="From your machine"
                  type="file"
                  accept="image/jpeg,image/png,image/webp,image/gif,image/avif,image/tiff"
                  onChange={(event) => {
                    setFile(event.target.files?.[0] ?? null);
                    setKept("");
                  }}
                  error={errors.file}
                />
                {pictures.length > 0 && (
                  <SelectField
                    label="or one the piece has"
                    value={kept}
                    onChange={(event) => choose(event.target.value)}
                  >
                    <option value="">Choose</option>
                    {pictures.map((one) => (
                      <option key={one.id} value={one.id}>
                        {one.name}
                      </option>
                    ))}
                  </SelectField>
                )}
              </>
            )}
            {dropped && <p className="break-words text-13 text-rail">{dropped.name}</p>}
            {dropped && errors.file && <p className="text-13 font-semibold text-red">{errors.file}</p>}
            <TextField
              label="What it shows"
              maxLength={1000}
              value={words.alt}
              onChange={set("alt")}
              error={errors.alt ?? errors.description}
            />
            <TextField
              label="Caption, if it needs one"
              maxLength={1000}
              value={words.caption}
              onChange={set("caption")}
            />
            <TextField label="By" maxLength={200} value={words.credit} onChange={set("credit")} error={errors.credit} />
            {!shown && !kept && <Licence value={words.licence} onChange={set("licence")} error={errors.licence} />}
          </div>
        </div>
        <Answers busy={busy} onLeave={onLeave}>
          {shown ? "Keep the words" : "Put it in"}
        </Answers>
      </form>
    </Asking>
  );
}

/** Asks for a file and what is to be said of it. */
export function FileDialog({ home, onDone, onLeave }: { home: Home; onDone(id: string): void; onLeave(): void }) {
  const [file, setFile] = useState<File | null>(null);
  const [words, setWords] = useState({ name: "", description: "", credit: "", licence: "" });
  const { busy, answer, upload } = useUpload(home);
  const [missing, setMissing] = useState<Partial<Record<string, string>>>({});
  const errors = { ...missing, ...fieldErrors(answer, "attach") } as Partial<Record<string, string>>;
  const set = (key: keyof typeof words) => (event: { target: { value: string } }) =>
    setWords((was) => ({ ...was, [key]: event.target.value }));
  const answerIt = async (event: FormEvent) => {
    event.preventDefault();
    event.stopPropagation();
    const wanting = {
      ...(file ? excess(file) && { file: excess(file) } : { file: "Choose a file." }),
      ...(words.credit.trim() === "" && { credit: "Whom it is by." }),
      ...(words.licence.trim() === "" && { licence: "By what right it may be shown." }),
    };
    setMissing(wanting);
    if (!file || Object.keys(wanting).length > 0) return;
    const id = await upload(file, words);
    if (id) onDone(id);
  };
  return (
    <Asking title="A file" onLeave={onLeave}>
      <form onSubmit={answerIt} noValidate className="space-y-3">
        <Refusal answer={answer} />
        <TextField
          label="From your machine"
          type="file"
          onChange={(event) => {
            const chosen = event.target.files?.[0] ?? null;
            setFile(chosen);
            setWords((was) => ({ ...was, name: chosen?.name ?? was.name }));
          }}
          error={errors.file}
          hint={`At most ${sayBytes(KEPT_BYTES)}. Pictures, documents, sound, film and texts; no programs.`}
        />
        <TextField label="Name" maxLength={200} value={words.name} onChange={set("name")} error={errors.name} />
        <TextField label="What it is" maxLength={1000} value={words.description} onChange={set("description")} />
        <TextField label="By" maxLength={200} value={words.credit} onChange={set("credit")} error={errors.credit} />
        <Licence value={words.licence} onChange={set("licence")} error={errors.licence} />
        <Answers busy={busy} onLeave={onLeave}>
          Add it
        </Answers>
      </form>
    </Asking>
  );
}

/** By what right a file may be shown. */
export function Licence(props: Partial<Parameters<typeof TextField>[0]>) {
  return (
    <>
      <TextField label="Licence" list="licences" maxLength={200} {...props} />
      <datalist id="licences">
        {LICENCES.map((one) => (
          <option key={one}>{one}</option>
        ))}
      </datalist>
    </>
  );
}

const excess = (file: File) =>
  file.size > KEPT_BYTES
    ? `It has ${sayBytes(file.size)}; a file of at most ${sayBytes(KEPT_BYTES)} is taken.`
    : undefined;

/** Brings files to a piece and says how it went. */
function useUpload(home: Home) {
  const [busy, setBusy] = useState(false);
  const [answer, setAnswer] = useState<FormAnswer | null>(null);
  const { revalidate } = useRevalidator();
  const upload = async (file: File, said: Record<string, string>): Promise<string | null> => {
    const form = new FormData();
    for (const [key, value] of Object.entries({ intent: "attach", pieceId: home.id, ...said })) form.append(key, value);
    form.append("file", file);
    setBusy(true);
    try {
      const response = await fetch(`/pieces/${home.slug}/files`, { method: "POST", body: form });
      const said = (await response.json()) as FormAnswer & { file?: string };
      setAnswer(said);
      if (said.file) await revalidate();
      return said.file ?? null;
    } catch {
      const sentence = "It could not be sent: there is no connection. Nothing you wrote is lost; try again.";
      setAnswer({ intent: "attach", fields: {}, refusal: { code: "away", sentence } });
      return null;
    } finally {
      setBusy(false);
    }
  };
  return { busy, answer, upload };
}

function Refusal({ answer }: { answer: FormAnswer | null }) {
  return answer?.refusal && answer.refusal.field !== "file" ? <Message>{answer.refusal.sentence}</Message> : null;
}

function Thumbnail({ file, kept }: { file: File | null; kept: PieceFile | undefined }) {
  const [source, setSource] = useState<string | null>(null);
  useEffect(() => {
    setSource(null);
    if (!file || file.size > KEPT_BYTES) return;
    const reader = new FileReader();
    reader.onload = () => setSource(String(reader.result));
    reader.readAsDataURL(file);
    return () => reader.abort();
  }, [file]);
  const src = file ? source : kept ? addressOf(kept.id, 480) : null;
  return (
    <div className="grid min-h-32 place-items-center self-start bg-platform">
      {src ? (
        <img src={src} alt="" className="max-h-64 w-full object-contain" />
      ) : (
        <span className="text-12 text-rail">No picture yet</span>
      )}
    </div>
  );
}

function Answers({ busy, onLeave, children }: { busy: boolean; onLeave(): void; children: string }) {
  return (
    <div className="flex gap-2">
      <Button look="go" disabled={busy}>
        {busy ? "Bringing it …" : children}
      </Button>
      <Button type="button" look="quiet" onClick={onLeave}>
        Leave
      </Button>
    </div>
  );
}

/** What is asked stands before everything else until it is answered or left; Esc leaves it. */
function Asking({ title, onLeave, children }: { title: string; onLeave(): void; children: React.ReactNode }) {
  const dialog = useRef<HTMLDialogElement>(null);
  const id = useId();
  useEffect(() => dialog.current?.showModal(), []);
  return (
    <dialog
      ref={dialog}
      aria-labelledby={id}
      onClose={onLeave}
      className="m-auto max-h-[92vh] w-[min(620px,94vw)] overflow-y-auto border-2 border-ink bg-paper p-5 font-sans text-15 text-ink shadow-lg backdrop:bg-ink/40"
    >
      <h2 id={id} className="mb-3 text-15! font-bold">
        {title}
      </h2>
      {children}
    </dialog>
  );
}

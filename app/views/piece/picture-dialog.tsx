import { useEffect, useState } from "react";
import { TextField } from "#app/ui/field.tsx";
import { FileDrop } from "#app/ui/file-drop.tsx";
import { Option, SelectField } from "#app/ui/select.tsx";
import { addressOf } from "#app/views/text/address.ts";
import { isPicture, KEPT_BYTES } from "#core/text/files.ts";
import type { Picture } from "#core/text/manuscript.ts";
import type { PieceFile } from "#server/files/queries.ts";
import { Asking, type Home, Licence, useAsked } from "./asking.tsx";

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
  /** The id of a picture the piece has. */
  const [kept, setKept] = useState(shown?.file ?? "");
  const { alt = "", caption = "", credit = "" } = shown ?? {};
  const asked = useAsked(home, { alt, caption, credit, licence: "" });
  const { words } = asked;
  const pictures = home.files.filter((one) => isPicture(one) && one.removedAt === null);
  const choose = (id: string) => {
    setKept(id);
    setFile(null);
    const one = pictures.find((picture) => picture.id === id);
    if (one) asked.say({ alt: words.alt || one.description, credit: words.credit || one.credit });
  };
  const answer = async () => {
    if (!asked.isComplete(file ?? kept, ["alt", "credit", ...(file ? (["licence"] as const) : [])])) return;
    const said = { description: words.alt, credit: words.credit, licence: words.licence };
    const id = file ? await asked.upload(file, { name: file.name, ...said }) : kept;
    if (id) onDone({ file: id, alt: words.alt.trim(), caption: words.caption.trim(), credit: words.credit.trim() });
  };
  return (
    <Asking
      title={shown ? "The picture’s words" : "A picture"}
      asked={asked}
      action={shown ? "Keep the words" : "Put it in"}
      onAnswer={answer}
      onLeave={onLeave}
    >
      <div className="grid gap-4 sm:grid-cols-[200px_minmax(0,1fr)]">
        <Thumbnail file={file} kept={home.files.find((one) => one.id === kept)} />
        <div className="space-y-3">
          {!dropped && !shown && (
            <FileDrop
              label="From your machine"
              accept="image/jpeg,image/png,image/webp,image/gif,image/avif,image/tiff"
              onChange={(event) => {
                setFile(event.target.files?.[0] ?? null);
                setKept("");
              }}
              error={asked.errors.file}
            />
          )}
          {!dropped && !shown && pictures.length > 0 && (
            <SelectField label="or one the piece has" value={kept} onChoose={choose}>
              <Option value="">Choose</Option>
              {pictures.map((one) => (
                <Option key={one.id} value={one.id}>
                  {one.name}
                </Option>
              ))}
            </SelectField>
          )}
          {dropped && (
            <p className="break-words text-13 text-rail">
              {dropped.name}
              {asked.errors.file && <b className="block font-semibold text-red">{asked.errors.file}</b>}
            </p>
          )}
          <TextField label="What it shows" maxLength={1000} {...asked.field("alt")} />
          <TextField label="Caption, if it needs one" maxLength={1000} {...asked.field("caption")} />
          <TextField label="By" maxLength={200} {...asked.field("credit")} />
          {!shown && !kept && <Licence {...asked.field("licence")} />}
        </div>
      </div>
    </Asking>
  );
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

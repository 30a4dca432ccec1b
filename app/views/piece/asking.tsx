import { type FormEvent, type ReactNode, useState } from "react";
import { useRevalidator } from "react-router";
import { type FormAnswer, fieldErrors } from "#app/form-answer.ts";
import { Button } from "#app/ui/button.tsx";
import { TextField } from "#app/ui/field.tsx";
import { Dialog } from "#app/ui/layers.tsx";
import { Message } from "#app/ui/message.tsx";
import { KEPT_BYTES, sayBytes } from "#core/text/files.ts";
import type { PieceFile } from "#server/files/queries.ts";

/** The piece files are brought to, and those it has. */
export interface Home {
  id: string;
  slug: string;
  files: readonly PieceFile[];
}

/** What must be said of a file, and what is said where it is not. */
const NEEDED: Record<string, string> = {
  alt: "Say what it shows: some readers only hear it.",
  credit: "Whom it is by.",
  licence: "By what right it may be shown.",
};

/** What is asked of a file while it is answered: its words, what is amiss with them, and the way to bring it. */
export function useAsked<K extends string>(home: Home, initial: Record<K, string>) {
  const [words, setWords] = useState(initial);
  const [missing, setMissing] = useState<Partial<Record<string, string>>>({});
  const { busy, answer, upload } = useUpload(home);
  const errors: Partial<Record<string, string>> = { ...missing, ...fieldErrors(answer, "attach") };
  const say = (more: Partial<Record<K, string>>) => setWords((was) => ({ ...was, ...more }));
  return {
    words,
    say,
    errors,
    busy,
    answer,
    upload,
    /** A field's value, its changes and what is amiss with it. */
    field: (key: K) => ({
      value: words[key],
      onChange: (event: { target: { value: string } }) => say({ [key]: event.target.value } as Record<K, string>),
      error: errors[key],
    }),
    /** Says what is still wanting of the file and its words. @returns whether nothing is */
    isComplete: (file: File | string | null, needed: readonly K[]): boolean => {
      const wanting = needed.flatMap((key) => (words[key].trim() === "" ? [[key, NEEDED[key]]] : []));
      const all = Object.fromEntries([...wanting, ...(amiss(file) ? [["file", amiss(file)]] : [])]);
      setMissing(all);
      return Object.keys(all).length === 0;
    },
  };
}

function amiss(file: File | string | null): string | null {
  if (!file) return "Choose a file.";
  if (typeof file === "string" || file.size <= KEPT_BYTES) return null;
  return `It has ${sayBytes(file.size)}; a file of at most ${sayBytes(KEPT_BYTES)} is taken.`;
}

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
      const heard = (await response.json()) as FormAnswer & { file?: string };
      setAnswer(heard);
      if (heard.file) await revalidate();
      return heard.file ?? null;
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

/** Rights one may choose from; any other can be written. */
const LICENCES = ["Own work", "By permission", "CC BY 4.0", "CC BY-SA 4.0", "Public domain"];

/** By what right a file may be shown. */
export const Licence = (props: Partial<Parameters<typeof TextField>[0]>) => (
  <TextField label="Licence" suggests={LICENCES} maxLength={200} {...props} />
);

/** What is asked stands before everything else until it is answered or left; Esc leaves it. */
export function Asking({
  title,
  asked: { answer, busy },
  action,
  onAnswer,
  onLeave,
  children,
}: {
  title: string;
  asked: { answer: FormAnswer | null; busy: boolean };
  /** The words on the button. */
  action: string;
  onAnswer(): void;
  onLeave(): void;
  children: ReactNode;
}) {
  const onSubmit = (event: FormEvent) => {
    event.preventDefault();
    onAnswer();
  };
  return (
    <Dialog title={title} open onLeave={onLeave}>
      <form onSubmit={onSubmit} noValidate className="space-y-3">
        {answer?.refusal && answer.refusal.field !== "file" && <Message>{answer.refusal.sentence}</Message>}
        {children}
        <div className="flex gap-2">
          <Button look="go" busy={busy}>
            {busy ? "Bringing it …" : action}
          </Button>
          <Button type="button" look="quiet" onClick={onLeave}>
            Leave
          </Button>
        </div>
      </form>
    </Dialog>
  );
}

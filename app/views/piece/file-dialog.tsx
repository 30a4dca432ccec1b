import { useState } from "react";
import { TextField } from "#app/ui/field.tsx";
import { FileDrop } from "#app/ui/file-drop.tsx";
import { KEPT_BYTES, sayBytes } from "#core/text/files.ts";
import { Asking, type Home, Licence, useAsked } from "./asking.tsx";

/** Asks for a file and what is to be said of it. */
export function FileDialog({ home, onDone, onLeave }: { home: Home; onDone(id: string): void; onLeave(): void }) {
  const [file, setFile] = useState<File | null>(null);
  const asked = useAsked(home, { name: "", description: "", credit: "", licence: "" });
  const bring = async () => {
    if (!asked.isComplete(file, ["credit", "licence"]) || !file) return;
    const id = await asked.upload(file, asked.words);
    if (id) onDone(id);
  };
  return (
    <Asking title="A file" asked={asked} action="Add it" onAnswer={bring} onLeave={onLeave}>
      <FileDrop
        label="From your machine"
        onChange={(event) => {
          const chosen = event.target.files?.[0] ?? null;
          setFile(chosen);
          if (chosen) asked.say({ name: chosen.name });
        }}
        error={asked.errors.file}
        hint={`At most ${sayBytes(KEPT_BYTES)}. Pictures, documents, sound, film and texts; no programs.`}
      />
      <TextField label="Name" maxLength={200} {...asked.field("name")} />
      <TextField label="What it is" maxLength={1000} {...asked.field("description")} />
      <TextField label="By" maxLength={200} {...asked.field("credit")} />
      <Licence {...asked.field("licence")} />
    </Asking>
  );
}

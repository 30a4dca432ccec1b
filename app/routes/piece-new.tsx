import { useState } from "react";
import { Form, redirect, useNavigation, useSearchParams } from "react-router";
import { v7 } from "uuid";
import { z } from "zod";
import { guarded, misread, readForm, requireViewer, runCommand } from "#app/request.ts";
import { Button } from "#app/ui/button.tsx";
import { SelectField, TextField } from "#app/ui/field.tsx";
import { Message } from "#app/ui/message.tsx";
import { TITLE_LIMIT } from "#core/text/fields.ts";
import { fromMarkdown } from "#core/text/markdown.ts";
import { createPiece } from "#server/pieces/commands.ts";
import { beginnings } from "#server/pieces/lists.ts";
import type { Route } from "./+types/piece-new.ts";

const FILE_BYTES = 1_000_000;

export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  return { ...(await beginnings(context.db, viewer)), formKey: v7() };
}

const schema = z.object({
  formKey: z.uuid(),
  kindId: z.string().min(1, "Choose a kind"),
  sectionId: z.string().min(1, "Choose a section"),
  title: z.string().trim(),
  private: z.literal("yes").optional(),
  file: z.instanceof(File).optional(),
});

export const action = guarded(async ({ context, request }: Route.ActionArgs) => {
  const viewer = await requireViewer(context, request);
  const read = readForm(schema, await request.formData());
  if ("fields" in read) return misread("new", read.fields);
  const { values } = read;
  const file = values.file && values.file.size > 0 ? values.file : null;
  if (file && file.size > FILE_BYTES) return misread("new", { file: "The file is larger than 1 MB." });
  const text = file ? decode(await file.arrayBuffer()) : null;
  if (file && text === null) return misread("new", { file: "The file is not a Markdown text in UTF-8." });
  const draft = text === null ? null : fromMarkdown(text);
  const title = values.title || draft?.title || "";
  if (!title) return misread("new", { title: "Give the piece a title; it can change later." });
  const done = await runCommand("new", () =>
    createPiece(context.act(viewer.id, values.formKey), {
      kindId: values.kindId,
      sectionId: values.sectionId,
      title,
      private: values.private === "yes",
      ...(draft ? { fields: { body: draft.manuscript } } : {}),
    }),
  );
  if (!("value" in done)) return done;
  const report = draft?.leftOut.length ? `?imported=${encodeURIComponent(draft.leftOut.join(" "))}` : "";
  return redirect(`/pieces/${done.value.slug}${report}`);
});

/** UTF-8 text, or null for what is none. */
function decode(bytes: ArrayBuffer): string | null {
  try {
    const text = new TextDecoder("utf-8", { fatal: true }).decode(bytes);
    return text.includes("\0") ? null : text;
  } catch {
    return null;
  }
}

export const meta: Route.MetaFunction = () => [{ title: "New piece · Elenco" }];

export default function NewPiece({ loaderData, actionData }: Route.ComponentProps) {
  const { kinds, sections, formKey } = loaderData;
  const [words] = useSearchParams();
  const [title, setTitle] = useState("");
  const busy = useNavigation().state === "submitting";
  const fields = actionData?.fields ?? {};
  const refused = actionData?.refusal;
  const error = (name: string) => fields[name] ?? (refused?.field === name ? refused.sentence : undefined);
  if (kinds.length === 0)
    return <p className="p-6">No grant of yours lets you begin a piece. Ask the managing editor.</p>;
  return (
    <div className="max-w-lg px-4 py-5 md:px-6">
      <h1>New piece</h1>
      <Form method="post" encType="multipart/form-data" className="mt-5 space-y-4">
        <input type="hidden" name="formKey" value={formKey} />
        {refused && !["kindId", "sectionId", "title"].includes(refused.field ?? "") && (
          <Message more={refused.missing}>{refused.sentence}</Message>
        )}
        <div className="grid gap-4 sm:grid-cols-2">
          <SelectField
            label="Kind"
            name="kindId"
            defaultValue={words.get("kind") ?? kinds[0]?.id}
            error={error("kindId")}
          >
            {kinds.map((kind) => (
              <option key={kind.id} value={kind.id}>
                {kind.name}
              </option>
            ))}
          </SelectField>
          <SelectField label="Section" name="sectionId" error={error("sectionId")}>
            <option value="">Choose</option>
            {sections.map((section) => (
              <option key={section.id} value={section.id}>
                {section.name}
              </option>
            ))}
          </SelectField>
        </div>
        <TextField
          label="Title"
          name="title"
          value={title}
          onChange={(event) => setTitle(event.target.value)}
          autoFocus
          error={error("title")}
          hint={
            title.length > TITLE_LIMIT / 2
              ? `${title.length} of ${TITLE_LIMIT} characters`
              : "It can change later. Left empty, the first heading of the file is taken."
          }
        />
        <TextField
          label="Start from a Markdown file"
          name="file"
          type="file"
          accept=".md,.markdown,text/markdown,text/plain"
          error={error("file")}
          hint="Headings, lists, links, tables, emphasis and notes are kept."
        />
        <label className="flex items-center gap-2 text-13">
          <input type="checkbox" name="private" value="yes" className="accent-blue" /> Only I see it until I first send
          it
        </label>
        <div className="flex gap-2">
          <Button look="go" disabled={busy}>
            {busy ? "Beginning …" : "Begin"}
          </Button>
        </div>
      </Form>
    </div>
  );
}

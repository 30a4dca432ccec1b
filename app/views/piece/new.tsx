import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import { ActionForm, useBusy } from "#app/ui/action-form.tsx";
import { Button, ButtonLink, TextLink } from "#app/ui/button.tsx";
import { MomentField } from "#app/ui/date-field.tsx";
import { Checkbox, Hidden, TextArea, TextField } from "#app/ui/field.tsx";
import { FileDrop } from "#app/ui/file-drop.tsx";
import { Hint } from "#app/ui/message.tsx";
import { Page, Part } from "#app/ui/page.tsx";
import { NamedField } from "#app/ui/select.tsx";
import { useLastAnswer } from "#app/views/frame/last-answer.ts";
import { FILE_BYTES, TITLE_LIMIT } from "#core/text/fields.ts";
import type { Route } from "../../routes/+types/piece-new.ts";
import { LineToTravel } from "./line-to-travel.tsx";
import { WriterField } from "./writer-field.tsx";

/** So many bytes are taken at once, in all files together. */
const SENT_BYTES = 24_000_000;

/** Begins a piece, from nothing or from files. */
export function NewPieceView({ loaderData, actionData: answer }: Route.ComponentProps) {
  const actionData = useLastAnswer(answer);
  const { kinds, sections, lines, of, writers, models, source, formKey } = loaderData;
  const [words] = useSearchParams();
  const [title, setTitle] = useState(source ? source.title : "");
  const [kindId, setKindId] = useState(words.get("kind") ?? (kinds.length === 1 ? kinds[0]?.id : "") ?? "");
  const [sectionId, setSectionId] = useState(sections.length === 1 ? (sections[0]?.id ?? "") : "");
  const [wish, setWish] = useState("");
  const [writerId, setWriterId] = useState("");
  const line = lines[of[`${kindId} ${sectionId}`] ?? ""];
  const chosen = kinds.find((kind) => kind.id === kindId);
  const ready = source ? [] : models.filter((one) => one.kindId === kindId);
  const [excess, setTooMuch] = useState("");
  const busy = useBusy("new");
  if (kinds.length === 0)
    return <p className="p-6">No grant of yours lets you begin a piece. Ask the managing editor.</p>;
  if (actionData && "reports" in actionData) return <Reports reports={actionData.reports} />;
  return (
    <Page title="New piece" act={<ButtonLink to="/pieces/several">Several from a list</ButtonLink>}>
      <div className="mt-5 grid items-start gap-x-14 gap-y-8 lg:grid-cols-[minmax(0,480px)_minmax(0,1fr)]">
        <ActionForm
          intent="new"
          answer={actionData}
          sends={{ formKey }}
          encType="multipart/form-data"
          className="space-y-4"
        >
          <div className="grid gap-4 sm:grid-cols-2">
            <NamedField label="Kind" name="kindId" none="Choose" options={kinds} value={kindId} onChoose={setKindId} />
            <NamedField
              label="Section"
              name="sectionId"
              none="Choose"
              options={sections}
              value={sectionId}
              onChoose={setSectionId}
            />
          </div>
          <TextField
            label="Title"
            name="title"
            value={title}
            onChange={(event) => setTitle(event.target.value)}
            autoFocus
            hint={
              title.length > TITLE_LIMIT / 2
                ? `${title.length} of ${TITLE_LIMIT} characters`
                : "It can change later. Left empty, the first heading of the file is taken."
            }
          />
          <MomentField label="Wished for; empty for no date" name="publishAt" onChange={setWish} />
          {source && (
            <>
              <Hidden name="from" value={source.slug} />
              <Hint>
                It begins with the words of{" "}
                <TextLink to={`/pieces/${source.slug}`} className="wrap-anywhere">
                  {source.title}
                </TextLink>
                , as far as its kind has room for them; each then leads to the other.
              </Hint>
            </>
          )}
          {ready.length > 0 && (
            <NamedField key={kindId} label="Begin from" name="modelId" none="an empty page" options={ready} />
          )}
          <FileDrop
            label="Start from files"
            name="files[]"
            multiple
            accept=".docx,.md,.markdown,.html,.htm,text/markdown,text/html,text/plain"
            onChange={(event) => setTooMuch(tooMuch([...(event.target.files ?? [])]))}
            error={excess || undefined}
            hint="Documents (DOCX), Markdown or HTML. Headings, lists, links, tables, emphasis and notes are kept. Several files become several drafts; drop them here."
          />
          {writers.length > 0 && (
            <WriterField
              writers={writers}
              value={writerId}
              onChoose={setWriterId}
              hint={writerId === "" ? undefined : "They take it on, or hand it back with a reason."}
            />
          )}
          {writerId === "" ? (
            <Checkbox name="private" value="yes">
              Only I see it until I first send it
            </Checkbox>
          ) : (
            <TextArea
              label="The brief"
              name="brief"
              rows={5}
              maxLength={4000}
              hint="What it is to be about, how long, what there is already."
            />
          )}
          <div className="flex gap-2">
            <Button look="go" busy={busy} disabled={excess !== ""}>
              {busy ? "Beginning …" : "Begin"}
            </Button>
          </div>
        </ActionForm>
        <div className="space-y-8">
          {line && <LineToTravel line={line} wish={wish} />}
          {chosen && <Asks kind={chosen} />}
        </div>
      </div>
    </Page>
  );
}

type Kind = Route.ComponentProps["loaderData"]["kinds"][number];

/** What a kind asks of who writes it, before it is begun. */
function Asks({ kind }: { kind: Kind }) {
  return (
    <Part title={`What a ${kind.name.toLowerCase()} asks`} className="max-w-160">
      <dl className="text-13">
        {kind.fields.map((field) => (
          <div
            key={field.key}
            className="grid gap-x-4 border-b border-rule py-1.5 sm:grid-cols-[160px_minmax(0,1fr)_auto]"
          >
            <dt className="font-semibold">{field.name}</dt>
            <dd className="min-w-0 text-rail">{field.guidance}</dd>
            <dd className="text-rail">{[limitOf(field), field.required && "required"].filter(Boolean).join(", ")}</dd>
          </div>
        ))}
      </dl>
    </Part>
  );
}

function limitOf({ minWords, maxWords, maxCharacters, unit }: Kind["fields"][number]): string {
  if (minWords && maxWords) return `${minWords} to ${maxWords} words`;
  if (maxWords) return `at most ${maxWords} words`;
  if (minWords) return `at least ${minWords} words`;
  return maxCharacters ? `at most ${maxCharacters} characters` : (unit ?? "");
}

/** What is too much to send, said before it is sent. */
function tooMuch(files: readonly File[]): string {
  const large = files.find((file) => file.size > FILE_BYTES);
  if (large)
    return `${large.name} has ${megabytes(large.size)} MB; a file of at most ${megabytes(FILE_BYTES)} MB is taken.`;
  const all = files.reduce((sum, file) => sum + file.size, 0);
  return all > SENT_BYTES
    ? `Together they have ${megabytes(all)} MB; at most ${megabytes(SENT_BYTES)} MB are taken at once.`
    : "";
}

const megabytes = (bytes: number) => Math.ceil(bytes / 1_000_000);

type Report = Extract<NonNullable<Route.ComponentProps["actionData"]>, { reports: unknown }>["reports"][number];

function Reports({ reports }: { reports: readonly Report[] }) {
  const begun = reports.filter((one) => one.piece !== null).length;
  return (
    <div className="max-w-2xl px-4 py-5 md:px-6">
      <h1>
        {begun} of {reports.length} files became drafts
      </h1>
      <ul aria-label="Files" className="mt-5 border-t border-ink">
        {reports.map((one, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: two files may have one name
          <li key={i} className="border-b border-rule py-2">
            <p className="flex flex-wrap justify-between gap-x-4">
              {one.piece ? (
                <Link to={`/pieces/${one.piece.slug}`} className="font-semibold text-blue">
                  {one.piece.title}
                </Link>
              ) : (
                <b className="font-semibold text-red">not begun</b>
              )}
              <span className="text-13 text-rail">{one.file}</span>
            </p>
            {one.said.map((sentence) => (
              <p key={sentence} className="text-13">
                {sentence}
              </p>
            ))}
          </li>
        ))}
      </ul>
      <p className="mt-4">
        <Link to="/pieces/new" reloadDocument className="font-semibold text-blue">
          Begin another
        </Link>
      </p>
    </div>
  );
}

import { useState } from "react";
import { useFetcher } from "react-router";
import { type FormAnswer, fieldErrors } from "#app/form-answer.ts";
import { Button } from "#app/ui/button.tsx";
import { Hidden, TextField } from "#app/ui/field.tsx";
import { Message } from "#app/ui/message.tsx";
import { PanelHead } from "#app/ui/page.tsx";
import { addressOf } from "#app/views/text/address.ts";
import { When } from "#app/views/time/clock.tsx";
import { fileUses, isPicture, sayBytes } from "#core/text/files.ts";
import type { PieceFile } from "#server/files/queries.ts";
import { Licence } from "./asking.tsx";
import { FileDialog } from "./file-dialog.tsx";
import { FileLink } from "./file-list.tsx";
import { carried } from "./framed.tsx";
import type { PiecePage } from "./page.ts";

/** Beside the text: every file with what is said of it. */
export function Files({ page }: { page: PiecePage }) {
  const [adding, setAdding] = useState(false);
  const { row, files, editable } = page;
  const gone = files.filter((one) => one.removedAt !== null);
  return (
    <section aria-label="The piece’s files" className="-mx-4 -mt-4 border-b border-ink bg-paper px-4 py-4">
      <PanelHead title="Files" leave={`/pieces/${row.slug}`} />
      <p className="mb-3 text-13 text-rail">
        Working papers of the piece. Readers get what stands in the text or a field, and nothing else.
      </p>
      {editable && (
        <Button type="button" look="go" onClick={() => setAdding(true)}>
          Add a file
        </Button>
      )}
      {adding && (
        <FileDialog
          home={{ id: row.id, slug: row.slug, files }}
          onDone={() => setAdding(false)}
          onLeave={() => setAdding(false)}
        />
      )}
      <ul className="mt-3">
        {files
          .filter((one) => one.removedAt === null)
          .map((one) => (
            <OneFile key={one.id} page={page} file={one} />
          ))}
      </ul>
      {gone.length > 0 && <h3 className="mt-4 text-13 text-rail">Taken out; earlier versions may show them</h3>}
      <ul>
        {gone.map((one) => (
          <li key={one.id} className="flex items-center justify-between gap-3 py-1 text-13">
            <FileLink file={one} className="min-w-0 break-words" />
            {editable && <Removing page={page} file={one} />}
          </li>
        ))}
      </ul>
    </section>
  );
}

function OneFile({ page, file }: { page: PiecePage; file: PieceFile }) {
  const [open, setOpen] = useState(false);
  const uses = fileUses(page.kind.fields, page.content).filter((use) => use.file === file.id);
  const where = [...new Set(uses.map(({ key }) => page.kind.fields.find((field) => field.key === key)?.name ?? key))];
  return (
    <li className="border-t border-rule py-2 text-13">
      <div className="flex gap-3">
        {isPicture(file) && (
          <img
            src={addressOf(file.id, 480)}
            alt=""
            loading="lazy"
            className="h-12 w-16 shrink-0 bg-platform object-cover"
          />
        )}
        <div className="min-w-0 flex-1">
          <FileLink file={file} className="block break-words font-semibold" />
          <p className="break-words">{file.description || <span className="text-rail">not described</span>}</p>
          <p className="break-words text-rail">
            {file.credit || "by nobody named"}, {file.licence || <b className="text-red">no licence</b>}
          </p>
          <p className="text-12 text-rail">
            {sayBytes(file.bytes)}
            {file.width !== null && `, ${file.width} × ${file.height}`} · {file.addedBy}, <When at={file.addedAt} />
            {where.length > 0 && ` · stands in ${where.join(", ")}`}
          </p>
        </div>
      </div>
      {page.editable && (
        <div className="mt-1 flex gap-1">
          <Button type="button" look="quiet" aria-expanded={open} onClick={() => setOpen(!open)} className="-ml-3">
            Describe
          </Button>
          {where.length === 0 && <Removing page={page} file={file} />}
        </div>
      )}
      {open && <Describing page={page} file={file} onDone={() => setOpen(false)} />}
    </li>
  );
}

const Carried = ({ page, intent }: { page: PiecePage; intent: string }) => (
  <>
    {Object.entries({ intent, ...carried(page) }).map(([name, value]) => (
      <Hidden key={name} name={name} value={value} />
    ))}
  </>
);

/** Takes a file out, or puts one back. */
function Removing({ page, file }: { page: PiecePage; file: PieceFile }) {
  const fetcher = useFetcher<FormAnswer>();
  const out = file.removedAt === null;
  return (
    <fetcher.Form method="post" action={`/pieces/${page.row.slug}/files`}>
      <Carried page={page} intent="remove" />
      <Hidden name="fileId" value={file.id} />
      <Button
        look="quiet"
        name="removed"
        value={String(out)}
        disabled={fetcher.state !== "idle"}
        aria-label={`${out ? "Take out" : "Put back"} ${file.name}`}
      >
        {out ? "Take out" : "Put back"}
      </Button>
      {fetcher.data?.refusal && <Message>{fetcher.data.refusal.sentence}</Message>}
    </fetcher.Form>
  );
}

function Describing({ page, file, onDone }: { page: PiecePage; file: PieceFile; onDone(): void }) {
  const fetcher = useFetcher<FormAnswer>();
  const errors = fieldErrors(fetcher.data, "describe");
  const kept = fetcher.data && !fetcher.data.refusal && Object.keys(fetcher.data.fields).length === 0;
  return (
    <fetcher.Form method="post" action={`/pieces/${page.row.slug}/files`} className="mt-2 space-y-2">
      <Carried page={page} intent="describe" />
      <Hidden name="fileId" value={file.id} />
      {fetcher.data?.refusal && <Message>{fetcher.data.refusal.sentence}</Message>}
      <TextField label="Name" name="name" defaultValue={file.name} maxLength={200} error={errors.name} />
      <TextField label="What it is" name="description" defaultValue={file.description} maxLength={1000} />
      <TextField label="By" name="credit" defaultValue={file.credit} maxLength={200} error={errors.credit} />
      <Licence name="licence" defaultValue={file.licence} error={errors.licence} />
      <div className="flex items-center gap-2">
        <Button look="go" disabled={fetcher.state !== "idle"}>
          Keep it
        </Button>
        <Button type="button" look="quiet" onClick={onDone}>
          Leave
        </Button>
        {kept && fetcher.state === "idle" && (
          <span role="status" className="text-rail">
            Kept.
          </span>
        )}
      </div>
    </fetcher.Form>
  );
}

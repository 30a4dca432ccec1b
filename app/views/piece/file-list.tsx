import { Link } from "react-router";
import { addressOf } from "#app/views/text/address.ts";
import { sayBytes } from "#core/text/files.ts";
import type { PieceFile } from "#server/files/queries.ts";
import type { PiecePage } from "./page.ts";

/** Left of the text: the piece's files, and what is amiss with those readers would get. */
export function FileList({ page }: { page: PiecePage }) {
  const present = page.files.filter((one) => one.removedAt === null);
  return (
    <section aria-label="Files">
      <h2 className="text-rail">Files</h2>
      {page.fileProblems.length > 0 && (
        <ul className="mt-1 space-y-1 border-l-3 border-red pl-2">
          {page.fileProblems.map(({ sentence }) => (
            <li key={sentence} className="break-words font-semibold text-red">
              {sentence}
            </li>
          ))}
        </ul>
      )}
      <ul className="mt-1 space-y-0.5">
        {present.map((one) => (
          <li key={one.id} className="truncate" title={`${one.name}: ${one.description || "not described"}`}>
            <FileLink file={one} className="font-semibold" /> <span className="text-rail">{sayBytes(one.bytes)}</span>
          </li>
        ))}
      </ul>
      {present.length === 0 && <p className="text-rail">none</p>}
      <Link to={`/pieces/${page.row.slug}?do=files`} className="mt-1 inline-block py-1 font-semibold text-blue">
        {page.editable ? "Add, describe, take out" : "See them"}
      </Link>
    </section>
  );
}

/** A file's name, which leads to the file. */
export function FileLink({ file, className }: { file: PieceFile; className: string }) {
  return (
    <a href={addressOf(file.id)} target="_blank" rel="noreferrer" className={`hover:text-blue ${className}`}>
      {file.name}
    </a>
  );
}

import { Button } from "#app/ui/button.tsx";
import { Message } from "#app/ui/message.tsx";
import { Compared } from "#app/views/text/changed.tsx";
import { compareContents } from "#core/text/compare.ts";
import type { PiecePageData } from "#server/pieces/page.ts";
import type { Draft } from "./draft.ts";

/** Two texts that changed the same place: what differs, and the choice. */
export function Apart({ page, draft }: { page: PiecePageData; draft: Draft }) {
  if (draft.state.kind !== "apart") return null;
  const { theirs, fields } = draft.state.between;
  const compared = compareContents(page.kind.fields, theirs.content, draft.content, page.names);
  return (
    <section aria-label="Two texts" className="mt-8 border-t-2 border-red pt-4">
      <div className="font-sans">
        <Message>
          {theirs.author} saved version {theirs.version} meanwhile, and both of you changed the same place. Yours is
          kept here and not saved yet.
        </Message>
        <p className="my-3 text-13">
          <del className="px-0.5">Struck through</del> is what only theirs has, <ins className="px-0.5">underlined</ins>{" "}
          what only yours has. Whichever you take, the other stays a version.
        </p>
        <p className="mb-4 flex gap-2">
          <Button type="button" look="go" onClick={() => draft.choose("mine")}>
            Go on with mine
          </Button>
          <Button type="button" onClick={() => draft.choose("theirs")}>
            Go on with theirs
          </Button>
        </p>
      </div>
      {compared
        .filter((one) => fields.includes(one.key))
        .map((one) => (
          <div key={one.key} className="manuscript compared">
            <h2 className="font-sans! text-13!">{one.name}</h2>
            <Compared change={one.change} side="both" />
          </div>
        ))}
    </section>
  );
}

import { useMemo, useState } from "react";
import { Link } from "react-router";
import { Button, ButtonLink } from "#app/ui/button.tsx";
import { Aside, Status } from "#app/ui/message.tsx";
import { PanelHead } from "#app/ui/page.tsx";
import { Compared } from "#app/views/text/changed.tsx";
import { useComparison } from "#app/views/text/comparison.ts";
import { inParts } from "#core/release/edition.ts";
import { sayDifference } from "#core/text/difference.ts";
import { counted } from "#core/words/say.ts";
import type { Corrected, EditionData } from "./data.ts";

type Out = NonNullable<EditionData["out"]>;

/** A past edition as it went out, and what of it was corrected since. */
export function WentOut({ page, out, corrected }: { page: EditionData; out: Out; corrected: Corrected }) {
  const groups = inParts(out, page.parts);
  const changed = out.filter((one) => one.corrected).length;
  return (
    <>
      <p role="status" className="mt-3">
        <b className="font-semibold">{out.length === 1 ? "One piece went out." : `${out.length} pieces went out.`}</b>{" "}
        {changed > 0 && (
          <span className="text-red">
            {changed === 1 ? "One was" : `${changed} were`} corrected since: what differs can be copied.
          </span>
        )}
      </p>
      {page.parts.map(({ key, name }) => {
        const some = groups.get(key) ?? [];
        if (some.length === 0) return null;
        return (
          <section key={key} aria-label={name} className="mt-6 max-w-180">
            <h2 className="border-b border-ink pb-1.5">{name}</h2>
            {some.map((one) => (
              <Piece key={one.pieceId} one={one} corrected={corrected?.pieceId === one.pieceId ? corrected : null} />
            ))}
          </section>
        );
      })}
    </>
  );
}

function Piece({ one, corrected }: { one: Out[number]; corrected: Corrected }) {
  return (
    <article aria-label={one.title} className="border-b border-rule py-4" id={`piece-${one.pieceId}`}>
      <div className="flex flex-wrap items-baseline gap-x-4">
        <h3 className="min-w-0 font-serif text-[24px]/[30px] font-semibold wrap-anywhere">
          <Link to={`/pieces/${one.slug}`} className="hover:text-blue">
            {one.title}
          </Link>
        </h3>
        <span className="mr-auto text-13 text-rail">
          {one.author} · {counted(one.words, "word")}
        </span>
        {one.corrected && !corrected && (
          <ButtonLink to={`?corrected=${one.pieceId}`} preventScrollReset>
            What was corrected
          </ButtonLink>
        )}
      </div>
      {corrected ? (
        <Difference corrected={corrected} />
      ) : (
        // biome-ignore lint/security/noDangerouslySetInnerHtml: our own renderer, which escapes everything
        <div className="manuscript mt-2" dangerouslySetInnerHTML={{ __html: one.html }} />
      )}
    </article>
  );
}

const NOBODY = {};

/** Just what differs from what was handed over, to be seen and to be pasted. */
function Difference({ corrected: { fields, before, after } }: { corrected: NonNullable<Corrected> }) {
  const compared = useComparison(fields, before, after, NOBODY);
  const changed = useMemo(() => compared?.filter((one) => one.change.kind !== "same") ?? [], [compared]);
  const [said, setSaid] = useState<string | null>(null);
  const text = useMemo(() => sayDifference(changed), [changed]);
  const copy = () =>
    navigator.clipboard.writeText(text).then(
      () => setSaid("Copied."),
      () => setSaid("It could not be copied. Choose the words and copy them by hand."),
    );
  return (
    <div className="mt-2 bg-paper px-4 py-3">
      <PanelHead title="What was corrected since it went out" leave="?" />
      {compared === null && <Aside>comparing …</Aside>}
      {changed.map(({ key, name, change }) => (
        <div key={key} className="mb-4">
          <h4 className="mb-1 text-13 text-rail">{name}</h4>
          <div className="manuscript compared">
            <Compared change={change} side="both" />
          </div>
        </div>
      ))}
      {changed.length > 0 && (
        <p className="flex items-center gap-3">
          <Button type="button" onClick={() => void copy()}>
            Copy just the difference
          </Button>
          {said && <Status>{said}</Status>}
        </p>
      )}
    </div>
  );
}

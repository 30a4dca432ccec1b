import { type ReactNode, useRef, useState } from "react";
import { Link } from "react-router";
import { ActionForm, useBusy } from "#app/ui/action-form.tsx";
import { Button } from "#app/ui/button.tsx";
import { Hidden } from "#app/ui/field.tsx";
import { useFocusAfter } from "#app/ui/focus-after.ts";
import { Aside, Status } from "#app/ui/message.tsx";
import { Part } from "#app/ui/page.tsx";
import { When } from "#app/views/time/clock.tsx";
import { counted } from "#core/words/say.ts";
import type { EditionData, EditionProps } from "./data.ts";

/** Beside an edition: how it looks as a whole, who signs, what is handed over, what could still come. */
export function Beside(props: EditionProps) {
  const { page } = props;
  return (
    <aside aria-label="Beside the edition" className="space-y-6 border-rule px-4 py-5 lg:border-l">
      {page.contents && <Checked contents={page.contents} />}
      <Signed page={page} />
      <HandedOver page={page} />
      {page.status !== "released" && page.sees && <Coming {...props} />}
    </aside>
  );
}

type Contents = NonNullable<EditionData["contents"]>;

/** One check: what it is, what it came to, and what it is about. */
function Check({
  name,
  says,
  amiss = false,
  children,
}: {
  name: string;
  says: ReactNode;
  amiss?: boolean;
  children?: ReactNode;
}) {
  return (
    <li className="border-b border-rule py-1.5 text-13">
      <span className={`flex justify-between gap-3 ${amiss ? "font-semibold text-red" : ""}`}>
        {name}
        <span className={amiss ? "" : "text-rail"}>{says}</span>
      </span>
      {amiss && children && <span className="mt-0.5 block text-rail">{children}</span>}
    </li>
  );
}

function Checked({ contents: { checks, items } }: { contents: Contents }) {
  const titles = new Map(items.map((item) => [item.pieceId, item.row.title]));
  const { ready, files, doubles, dangling } = checks;
  const toOne = (id: string) => (
    <a key={id} href={`#piece-${id}`} className="mr-2 inline-block min-h-7 underline underline-offset-3">
      {titles.get(id) ?? "a piece"}
    </a>
  );
  return (
    <Part title="Checked as a whole" className="">
      <ul>
        <Check name="Approved, word for word" says={`${ready.length} of ${items.length}`} />
        <Check name="Files and licences" says={files.length === 0 ? "in order" : files.length} amiss={files.length > 0}>
          {files.map(toOne)}
        </Check>
        <Check name="Said twice" says={doubles.length === 0 ? "none" : doubles.length} amiss={doubles.length > 0}>
          {doubles.map(([one, other]) => (
            <span key={`${one} ${other}`} className="block">
              {toOne(one)}
              {toOne(other)}
            </span>
          ))}
        </Check>
        <Check
          name="Links to a piece not yet out"
          says={dangling.length === 0 ? "none" : dangling.length}
          amiss={dangling.length > 0}
        >
          {dangling.map(({ pieceId, slug }) => (
            <span key={`${pieceId} ${slug}`} className="block break-words">
              {toOne(pieceId)}
              to {slug}
            </span>
          ))}
        </Check>
      </ul>
    </Part>
  );
}

function Signed({ page: { signers, status } }: { page: EditionData }) {
  return (
    <Part title="Signed off by" className="">
      {signers.length === 0 && (
        <Aside className="mt-1.5">
          {status === "released" ? "Nobody." : "Nobody yet. Whoever sees to this channel’s editions may sign it."}
        </Aside>
      )}
      <ul>
        {signers.map(({ id, name, by, at }) => (
          <li key={id} className="flex justify-between gap-3 border-b border-rule py-1.5 text-13">
            <span className="min-w-0 break-words">{by ? `${by} for ${name}` : name}</span>
            <span className="shrink-0 text-rail">{at === null ? "not yet" : <When at={at} />}</span>
          </li>
        ))}
      </ul>
    </Part>
  );
}

const FORMS = [
  ["txt", "Text"],
  ["html", "HTML mail"],
  ["docx", "DOCX"],
  ["md", "Markdown"],
  ["zip", "ZIP"],
] as const;

function HandedOver({ page }: { page: EditionData }) {
  const [said, setSaid] = useState<string | null>(null);
  const address = (form: string) => `/editions/${page.channel.key}/${page.number}/document?as=${form}`;
  const copy = async () => {
    setSaid("Copying …");
    try {
      const answer = await fetch(address("txt"));
      if (!answer.ok) throw new Error(String(answer.status));
      await navigator.clipboard.writeText(await answer.text());
      setSaid("Copied, as plain text.");
    } catch {
      setSaid("It could not be copied. Take it as a file instead.");
    }
  };
  const isEmpty = (page.contents?.checks.ready.length ?? page.out?.length ?? 0) === 0;
  return (
    <Part title="Handed over as" className="">
      {isEmpty ? (
        <Aside className="mt-1.5">Nothing in it is ready to be handed over.</Aside>
      ) : (
        <>
          <div className="mt-2.5 flex flex-wrap gap-1.5">
            <Button type="button" onClick={() => void copy()}>
              Copy all
            </Button>
            {FORMS.map(([form, name]) => (
              <a
                key={form}
                href={address(form)}
                download
                className="inline-flex min-h-(--control) items-center rounded border border-ink bg-paper px-3 text-13 font-semibold leading-none hover:bg-platform"
              >
                {name}
              </a>
            ))}
          </div>
          {said && <Status className="mt-1.5">{said}</Status>}
          {page.status !== "released" && (
            <Aside className="mt-1.5">What is not ready is left out and named at the top of what you take.</Aside>
          )}
        </>
      )}
    </Part>
  );
}

/** What belongs in and is in none: put in by one click. */
function Coming({ page, formKey }: EditionProps) {
  const busy = useBusy("fill");
  const open = !page.locked;
  const list = useRef<HTMLUListElement>(null);
  const pressed = useRef<number | null>(null);
  // What was put in is gone from here: the one that comes to its place is next.
  useFocusAfter(() => {
    const at = pressed.current;
    pressed.current = null;
    const left = list.current?.querySelectorAll("button") ?? [];
    return at === null ? null : left[Math.min(at, left.length - 1)];
  });
  return (
    <Part title="Could still come" className="">
      {page.coming.length === 0 && <Aside className="mt-1.5">Nothing else that belongs in.</Aside>}
      <ul ref={list}>
        {page.coming.map((one, i) => (
          <li key={one.id} className="flex items-center justify-between gap-3 border-b border-rule py-1 text-13">
            <span className="min-w-0">
              <Link to={`/pieces/${one.slug}`} className="block truncate hover:text-blue">
                {one.title}
              </Link>
              <span className="text-rail">
                {one.ready ? "ready" : one.dueAt === null ? "no due date" : <When at={one.dueAt} />} ·{" "}
                {counted(one.words, "word")}
              </span>
            </span>
            {open && !page.closed && (
              <ActionForm
                intent="fill"
                label={`Put in ${one.title}`}
                answer={null}
                sends={{ editionId: page.id, formKey }}
                className="contents"
              >
                <Hidden name="pieces[]" value={one.id} />
                <Button
                  look="word"
                  busy={busy}
                  aria-label={`Put in ${one.title}`}
                  onClick={() => {
                    pressed.current = i;
                  }}
                >
                  Put in
                </Button>
              </ActionForm>
            )}
          </li>
        ))}
      </ul>
    </Part>
  );
}

import { useEffect, useRef } from "react";
import { Form, Link, useNavigation, useSearchParams } from "react-router";
import { ActionForm, useBusy } from "#app/ui/action-form.tsx";
import { Button, ButtonLink } from "#app/ui/button.tsx";
import { Input, Radio } from "#app/ui/field.tsx";
import { When } from "#app/views/time/clock.tsx";
import type { VersionsPage } from "./versions.ts";

/** The comparisons people ask for most. */
export function Since({ page: { marks, piece } }: { page: VersionsPage }) {
  const since: [string, number | null][] = [
    ["since I last looked", marks.looked],
    ["since the approved one", marks.approved],
    ["since the live one", marks.live],
    ["since the one before", piece.newest > 1 ? piece.newest - 1 : null],
  ];
  return (
    <p className="mb-3 flex flex-wrap gap-x-3 gap-y-1 text-13">
      <span className="text-rail">What changed</span>
      {since.map(([name, number]) =>
        number === null || number === piece.newest ? (
          <span key={name} className="text-rail">
            {name}: {number === null ? "there is none" : "nothing"}
          </span>
        ) : (
          <Link key={name} to={`?from=${number}&to=${piece.newest}`} className="font-semibold text-blue">
            {name}
          </Link>
        ),
      )}
    </p>
  );
}

/** Where words once stood, with the way to compare. */
export function Findings({ page, words }: { page: VersionsPage; words: string }) {
  const { findings, piece } = page;
  const field = (key: string) => piece.fields.find((one) => one.key === key)?.name ?? "Title";
  if (!findings?.length)
    return (
      <p role="status" className="mb-4 border-l-3 border-yellow bg-paper px-3 py-1.5 text-13">
        {words.trim().length < 3 ? "Give at least three letters." : `“${words}” never stood here.`}
      </p>
    );
  return (
    <ul aria-label="Found" className="mb-4 space-y-2 border-l-3 border-yellow bg-paper px-3 py-2 text-13">
      {findings.map((one) => (
        <li key={`${one.field} ${one.from}`}>
          <p className="font-serif text-15">{one.around}</p>
          <p className="text-rail">
            {field(one.field)},{" "}
            {one.from === one.until ? `version ${one.from}` : `versions ${one.from} to ${one.until}`}
            {one.still ? ", still there" : ""}
            {!one.still && (
              <>
                {" · "}
                <Link to={`?from=${one.until}&to=${piece.newest}`} className="font-semibold text-blue">
                  compare with now
                </Link>
              </>
            )}
          </p>
        </li>
      ))}
    </ul>
  );
}

/** The versions, the newest first: who, when, how much; two of them chosen to be compared. */
export function VersionList({ page, chosen }: { page: VersionsPage; chosen: (number | undefined)[] }) {
  const busy = useNavigation().state !== "idle";
  const [low = page.piece.newest - 1, high = page.piece.newest] = chosen;
  const form = useRef<HTMLFormElement>(null);
  // What is compared by a shortcut, or by going back, is what is chosen then.
  // biome-ignore lint/correctness/useExhaustiveDependencies: once for each two
  useEffect(() => form.current?.reset(), [low, high]);
  return (
    <>
      <Form ref={form} id="compare" className="mb-2 flex items-center justify-between gap-3 text-13">
        <span className="text-rail">
          {page.count} {page.count === 1 ? "version" : "versions"}
        </span>
        <Button look="go" busy={busy} disabled={page.count < 2}>
          Compare the two
        </Button>
      </Form>
      <ol aria-label="Versions" className="border-t border-ink">
        {page.versions.map((one) => (
          <li key={one.id} data-row className="border-b border-rule py-1.5 focus-within:bg-wash">
            <div className="flex items-baseline gap-2">
              {(["from", "to"] as const).map((name) => (
                <Radio
                  key={name}
                  form="compare"
                  name={name}
                  value={one.number}
                  defaultChecked={one.number === (name === "from" ? low : high)}
                  aria-label={`${name === "from" ? "Old" : "New"}: version ${one.number}`}
                  className="m-1.5 size-3.5"
                />
              ))}
              <b className="w-7 text-right font-semibold">{one.number}</b>
              <span className="min-w-0 flex-1 truncate">
                {one.author}
                <span className="block truncate text-13 text-rail">
                  <When at={one.at} />
                </span>
              </span>
              {page.editable && (
                <Link
                  to={`?name=${one.number}`}
                  preventScrollReset
                  className="text-13 text-blue"
                  aria-label={`Name version ${one.number}`}
                >
                  {one.name ? "rename" : "name"}
                </Link>
              )}
              <span className="narrow w-18 text-right text-13 text-rail" title={`${one.words} words in all`}>
                {one.change === null
                  ? `${one.words} words`
                  : `${one.change > 0 ? "+" : one.change < 0 ? "−" : "±"}${Math.abs(one.change)} words`}
              </span>
            </div>
            <Marks page={page} version={one} />
          </li>
        ))}
      </ol>
      {page.more && (
        <ButtonLink look="quiet" to={`?before=${page.versions.at(-1)?.number}`} className="mt-2 -ml-3">
          Earlier ones
        </ButtonLink>
      )}
    </>
  );
}

function Marks({ page, version }: { page: VersionsPage; version: VersionsPage["versions"][number] }) {
  const [words] = useSearchParams();
  const busy = useBusy("name");
  const naming = words.get("name") === String(version.number);
  const marks = [version.live && "live", version.approved && "approved"].filter(Boolean).join(", ");
  if (naming && page.editable)
    return (
      <ActionForm
        intent="name"
        answer={null}
        action="?"
        sends={{ pieceId: page.piece.id, number: version.number }}
        className="mt-1 flex gap-2 pl-27"
      >
        <Input
          look="small"
          name="name"
          autoFocus
          aria-label={`Name of version ${version.number}`}
          defaultValue={version.name ?? ""}
          maxLength={120}
          className="min-w-0 flex-1"
        />
        <Button busy={busy}>Name it</Button>
      </ActionForm>
    );
  if (!marks && !version.name) return null;
  return (
    <p className="flex gap-2 pl-27 text-12">
      {marks && <span className="font-semibold">{marks}</span>}
      {version.name && <span className="truncate">“{version.name}”</span>}
    </p>
  );
}

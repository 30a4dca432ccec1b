import { useEffect, useState } from "react";
import { Link, useLocation } from "react-router";
import { Button } from "#app/ui/button.tsx";
import { Fold } from "#app/ui/fold.tsx";
import { draftKey, type KeptWords, useOwner } from "#app/views/frame/kept-here.ts";
import { isManuscript } from "#core/text/fields.ts";
import { textOf } from "#core/text/plain.ts";
import { patchBetween } from "#core/text/splice.ts";
import { groundOf, type Kept, type ServerText } from "./ground.ts";
import { isOpen, windowId } from "./window.ts";

/** How often it is looked what is kept, and how long words may be on their way to the server, in milliseconds. */
const LOOK = 3_000;
/** After so many looks that brought nothing home it is looked less often. */
const PATIENT = 10;
const ON_THEIR_WAY = 4_000;

const read = (key: string) => JSON.parse(localStorage.getItem(key) ?? "null") as Kept | null;

/**
 * Brings words that no window shows any more to the server.
 *
 * @returns whether they are there now, or still on their way
 */
async function bringHome(key: string, kept: Kept): Promise<boolean> {
  if (Date.now() - kept.at < ON_THEIR_WAY) return true;
  if (kept.window !== (await windowId()) && (await isOpen(kept.window))) return false;
  const address = `/pieces/${kept.slug}/text`;
  const present = await fetch(address);
  if (!present.ok || present.redirected) return false;
  const there = (await present.json()) as ServerText;
  const patch = patchBetween(there.content, kept.content);
  if (patch) {
    // What went on meanwhile is met where the text is open.
    if (groundOf(kept, there).hash !== there.hash) return false;
    const pieceId = key.slice(key.lastIndexOf(":") + 1);
    const body = { intent: "save", leaves: true, pieceId, window: kept.window, base: there.hash, patch };
    const headers = { "Content-Type": "application/json" };
    const answer = await fetch(address, { method: "POST", headers, body: JSON.stringify(body) });
    if (!(await answer.json()).saved) return false;
  }
  if (read(key)?.at === kept.at) localStorage.removeItem(key);
  return true;
}

/** Words of one's own that are kept in this browser, since they do not get to the server. */
function useKeptWords(): (KeptWords & { key: string })[] {
  const owner = useOwner();
  const { pathname } = useLocation();
  const [kept, setKept] = useState<(KeptWords & { key: string })[]>([]);
  useEffect(() => {
    let gone = false;
    let timer: ReturnType<typeof setTimeout>;
    let looks = 0;
    const look = async () => {
      const found: (KeptWords & { key: string })[] = [];
      for (const key of Object.keys(localStorage).filter((one) => one.startsWith(draftKey(owner, "")))) {
        const words = read(key);
        if (!words || pathname === `/pieces/${words.slug}`) continue;
        const { slug, title, at } = words;
        // One after another: what waits may be long.
        if (!(await bringHome(key, words).catch(() => false))) found.push({ key, slug, title, at });
      }
      if (gone) return;
      setKept((was) => (JSON.stringify(was) === JSON.stringify(found) ? was : found));
      looks = found.length > 0 ? looks + 1 : 0;
      timer = setTimeout(look, looks > PATIENT ? LOOK * PATIENT : LOOK);
    };
    timer = setTimeout(look, LOOK);
    return () => {
      gone = true;
      clearTimeout(timer);
    };
  }, [owner, pathname]);
  return kept.filter(({ slug }) => pathname !== `/pieces/${slug}`);
}

/** Says which words of one's own were typed here and are on no server yet; they go there as soon as they can. */
export function Unsaved() {
  const elsewhere = useKeptWords();
  if (elsewhere.length === 0) return null;
  return (
    <div className="border-b border-rule bg-paper px-4 py-1.5 text-13 md:px-6">
      <p role="status">
        <span className="font-semibold text-red">Not saved yet, kept in this browser:</span>{" "}
        {elsewhere.map(({ slug, title }, i) => (
          <span key={slug}>
            {i > 0 && ", "}
            <Link to={`/pieces/${slug}`} className="font-semibold text-blue underline underline-offset-2">
              {title}
            </Link>
          </span>
        ))}
      </p>
      <Fold summary="They do not go home?">
        <ul aria-label="Words kept here" className="pb-1">
          {elsewhere.map((one) => (
            <LetGo key={one.key} at={one.key} slug={one.slug} title={one.title} />
          ))}
        </ul>
      </Fold>
    </div>
  );
}

/** Words no piece takes any more: they are taken along as a text, and then let go of, which is asked twice. */
function LetGo({ at, slug, title }: { at: string; slug: string; title: string }) {
  const [taken, setTaken] = useState(false);
  const [gone, setGone] = useState(false);
  if (gone) return null;
  const takeAlong = () => {
    const content = read(at)?.content;
    const texts = Object.values(content?.fields ?? {}).map((value) => (isManuscript(value) ? textOf(value) : ""));
    const link = document.createElement("a");
    link.href = URL.createObjectURL(new Blob([[title, ...texts.filter(Boolean)].join("\n\n")], { type: "text/plain" }));
    link.download = `${slug}.txt`;
    link.click();
    URL.revokeObjectURL(link.href);
    setTaken(true);
  };
  const letGo = () => {
    localStorage.removeItem(at);
    setGone(true);
  };
  return (
    <li className="flex flex-wrap items-center gap-x-3">
      <span className="min-w-0 truncate">{title}</span>
      <Button type="button" look="quiet" onClick={takeAlong}>
        Take the words along
      </Button>
      {taken && (
        <Button type="button" look="quiet" onClick={letGo}>
          Let them go: you have them
        </Button>
      )}
    </li>
  );
}

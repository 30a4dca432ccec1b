import { data } from "react-router";
import { answered, guarded, misread, readForm, requireViewer, runCommand } from "#app/request.ts";
import { useLastAnswer } from "#app/views/frame/last-answer.ts";
import { TurnView } from "#app/views/lists/turn.tsx";
import { pathName } from "#core/sections/tree.ts";
import { editionsToSign } from "#server/editions/queries.ts";
import { nudge, nudgeInput } from "#server/passage/nudging.ts";
import { beginnings } from "#server/pieces/beginning.ts";
import { ASKED, yourTurn } from "#server/pieces/turn.ts";
import type { Route } from "./+types/turn.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const words = new URL(request.url).searchParams;
  const wanted = {
    asked: ASKED.find((one) => one === words.get("asked")),
    section: words.get("section")?.slice(0, 100) || undefined,
  };
  const [turn, editions] = await Promise.all([
    yourTurn(context.db, viewer, words.get("after") ?? undefined, wanted),
    editionsToSign(context.db, viewer),
  ]);
  const sections = [...viewer.places.sections.values()].map(({ id, key }) => ({
    key,
    name: pathName(viewer.places, id),
  }));
  return {
    ...turn,
    editions,
    sections: sections.sort((a, b) => a.name.localeCompare(b.name)),
    mayBegin: beginnings(viewer).kinds.length > 0,
  };
}

/** Asks whoever has a piece where it is. */
export const action = guarded(async ({ context, request }: Route.ActionArgs) => {
  const viewer = await requireViewer(context, request);
  const read = readForm(nudgeInput, await request.formData());
  if ("fields" in read) return misread("nudge", read.fields);
  const about = read.values.pieceId;
  const done = await runCommand("nudge", () => nudge(context.act(viewer.id), read.values));
  if ("value" in done) return { ...answered("nudge"), about, people: done.value.people };
  // Said at the very row.
  return data({ ...done.data, about }, { status: 422 });
});

export const meta: Route.MetaFunction = () => [{ title: "Your turn · Elenco" }];

export default function YourTurn({ loaderData, actionData }: Route.ComponentProps) {
  return <TurnView page={loaderData} answer={useLastAnswer(actionData) ?? null} />;
}

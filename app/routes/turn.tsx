import { data } from "react-router";
import { pack, usePacked } from "#app/packed.ts";
import { answered, guarded, misread, readForm, requireViewer, runCommand } from "#app/request.ts";
import { loaderAhead } from "#app/views/frame/ahead.ts";
import { useLastAnswer } from "#app/views/frame/last-answer.ts";
import { TurnView } from "#app/views/lists/turn.tsx";
import { can, PUBLICATION } from "#core/access/decide.ts";
import { sectionsByKey } from "#server/choices.ts";
import { editionsWaiting } from "#server/editions/queries.ts";
import { targetsAtRisk } from "#server/flow/targets.ts";
import { nudge, nudgeInput } from "#server/passage/nudging.ts";
import { beginnings } from "#server/pieces/beginning.ts";
import { yourTurn } from "#server/pieces/turn.ts";
import { ASKED } from "#server/pieces/waiting.ts";
import type { Route } from "./+types/turn.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requireViewer(context, request);
  const words = new URL(request.url).searchParams;
  const wanted = {
    asked: ASKED.find((one) => one === words.get("asked")),
    section: words.get("section")?.slice(0, 100) || undefined,
  };
  const [turn, editions, targets] = await Promise.all([
    yourTurn(context.db, viewer, words.get("after") ?? undefined, wanted),
    editionsWaiting(context.db, viewer),
    can(viewer, "publication.edit", PUBLICATION, viewer.now).allowed ? targetsAtRisk(context.db, viewer) : [],
  ]);
  return {
    packed: pack({
      ...turn,
      editions,
      targets: targets.map(({ id, name, wanted, done, coming }) => ({ id, name, wanted, likely: done + coming })),
      sections: sectionsByKey(viewer),
      mayBegin: beginnings(viewer).kinds.length > 0,
    }),
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

export const clientLoader = loaderAhead<Awaited<ReturnType<typeof loader>>>();

export const meta: Route.MetaFunction = () => [{ title: "Your turn · Elenco" }];

export default function YourTurn({ loaderData, actionData }: Route.ComponentProps) {
  return <TurnView page={usePacked(loaderData.packed)} answer={useLastAnswer(actionData) ?? null} />;
}

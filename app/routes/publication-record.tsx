import { ledgerFilter } from "#app/ledger-filter.ts";
import { requirePermission } from "#app/request.ts";
import { RecordView } from "#app/views/publication/record.tsx";
import { actionsOnRecord, readLedger } from "#server/ledger/queries.ts";
import { verifyLedger } from "#server/ledger/verify.ts";
import { choosable } from "#server/people/queries.ts";
import type { Route } from "./+types/publication-record.ts";

export async function loader({ context, request }: Route.LoaderArgs) {
  const viewer = await requirePermission(context, request, "ledger.read");
  const words = new URL(request.url).searchParams;
  const [page, actions, people] = await Promise.all([
    readLedger(context.db, viewer, ledgerFilter(words, viewer.zone)),
    actionsOnRecord(context.db),
    choosable(context.db, viewer),
  ]);
  return { ...page, actions, people: people.map(({ key, name }) => ({ key, name })) };
}

/** Follows the whole chain anew; it changes nothing. */
export async function action({ context, request }: Route.ActionArgs) {
  const viewer = await requirePermission(context, request, "ledger.read");
  return { ...(await verifyLedger(context.db)), at: viewer.now };
}

export const meta: Route.MetaFunction = () => [{ title: "Record · Elenco" }];

export default function Record(props: Route.ComponentProps) {
  return <RecordView {...props} />;
}

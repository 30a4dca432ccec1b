import { requirePermission } from "#app/request.ts";
import type { Rule } from "#core/rules/document.ts";
import { loadRules } from "#server/rules/rows.ts";
import type { Route } from "./+types/rules-file.ts";

/** All rules as one document. */
export async function loader({ context, request }: Route.LoaderArgs) {
  await requirePermission(context, request, "workflow.edit");
  const rules = (await loadRules(context.db)).map(
    ({ key, name, on, when, if: asks, then }): Rule => ({ key, name, on, when, if: asks, then }),
  );
  return new Response(`${JSON.stringify({ format: "elenco.rules/1", rules }, null, 2)}\n`, {
    headers: {
      "Content-Type": "application/json; charset=utf-8",
      "Content-Disposition": 'attachment; filename="rules.json"',
    },
  });
}

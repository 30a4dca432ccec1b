import { Hidden } from "#app/ui/field.tsx";
/** What every form of the page carries. */
export function Shared({ page, intent }: { page: { row: { id: string }; formKey?: string }; intent: string }) {
  return (
    <>
      <Hidden name="intent" value={intent} />
      <Hidden name="pieceId" value={page.row.id} />
      <Hidden name="formKey" value={page.formKey} />
    </>
  );
}

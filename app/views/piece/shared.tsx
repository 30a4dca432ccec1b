/** What every form of the page carries. */
export function Shared({ page, intent }: { page: { row: { id: string }; formKey?: string }; intent: string }) {
  return (
    <>
      <input type="hidden" name="intent" value={intent} />
      <input type="hidden" name="pieceId" value={page.row.id} />
      <input type="hidden" name="formKey" value={page.formKey} />
    </>
  );
}

/** What an amendment changed: what stood there, and what stands there now. */
export const Changes = ({ changes }: { changes: readonly { name: string; was: string; is: string }[] }) => (
  <ul className="space-y-1">
    {changes.length === 0 && <li>The date alone.</li>}
    {changes.map(({ name, was, is }) => (
      <li key={name} className="break-words">
        <b className="font-semibold">{name}</b> <del className="text-rail">{was || "nothing"}</del> →{" "}
        <ins className="no-underline">{is || "nothing"}</ins>
      </li>
    ))}
  </ul>
);

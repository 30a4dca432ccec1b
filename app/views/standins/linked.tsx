/** Words with their addresses as links. */
export function linked(body: string) {
  return body.split(/(https?:\/\/\S+)/).map((part, i) =>
    i % 2 === 1 ? (
      <a key={part} href={part} className="text-blue underline">
        {part}
      </a>
    ) : (
      part
    ),
  );
}

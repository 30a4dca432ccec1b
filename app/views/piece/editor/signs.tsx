import { Button } from "#app/ui/button.tsx";

/** Signs a keyboard rarely has, by name. */
const SIGNS: [string, string][] = [
  ["–", "en dash"],
  ["—", "em dash"],
  ["“", "opening quotation mark"],
  ["”", "closing quotation mark"],
  ["‘", "opening single quotation mark"],
  ["’", "apostrophe"],
  ["…", "ellipsis"],
  ["°", "degree"],
  ["′", "minute"],
  ["″", "second"],
  ["×", "times"],
  ["±", "plus or minus"],
  ["½", "a half"],
  ["¼", "a quarter"],
  ["²", "squared"],
  ["³", "cubed"],
  ["€", "euro"],
  ["→", "arrow"],
  ["§", "section"],
  ["•", "dot"],
  ["\u00a0", "space that does not break"],
  ["\u00ad", "place to hyphenate"],
];

/** A row of signs to put where the cursor is. */
export function Signs({ onPick, onLeave }: { onPick(sign: string): void; onLeave(): void }) {
  return (
    <fieldset
      className="flex flex-wrap gap-1 pb-2"
      onKeyDown={(event) => {
        if (event.key !== "Escape") return;
        event.preventDefault();
        onLeave();
      }}
    >
      <legend className="sr-only">Signs</legend>
      {SIGNS.map(([sign, name], i) => (
        <Button
          look="bare"
          key={name}
          type="button"
          autoFocus={i === 0}
          aria-label={name}
          title={name}
          onClick={() => onPick(sign)}
          className="h-7 min-w-7 rounded border border-rule bg-paper px-1 text-15 hover:border-blue"
        >
          {sign.trim() === "" ? "␣" : sign === "\u00ad" ? "-|" : sign}
        </Button>
      ))}
    </fieldset>
  );
}

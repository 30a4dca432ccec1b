import { Button, ButtonLink } from "#app/ui/button.tsx";
import { Checkbox } from "#app/ui/field.tsx";
import { counted } from "#core/words/say.ts";
import { type Choosing, sizeOf } from "./chosen.ts";

/** The box by which a row is chosen; with Shift all from the one chosen last. */
export function ChooseBox({ id, title, choosing }: { id: string; title: string; choosing: Choosing }) {
  return (
    <Checkbox
      data-choose=""
      aria-label={`Choose ${title}`}
      checked={choosing.has(id)}
      onChange={(event) => choosing.toggle(id, (event.nativeEvent as PointerEvent).shiftKey === true)}
    />
  );
}

/**
 * What is chosen, and what can be done with it; below the list, and in view while anything is.
 *
 * @param all the words of the address the list is narrowed by, and how many pieces fit them
 */
export function ChosenBar({
  choosing,
  shown,
  all,
}: {
  choosing: Choosing;
  shown: readonly string[];
  all?: { query: string; total: number };
}) {
  const { choice, set } = choosing;
  const size = sizeOf(choice);
  if (size === 0) return null;
  const every = "all" in choice;
  const whole = shown.every(choosing.has);
  return (
    <section
      aria-label="Chosen pieces"
      className="sticky bottom-0 z-20 -mx-4 mt-3 flex flex-wrap items-center gap-x-4 gap-y-1 border-t-2 border-ink bg-paper px-4 py-2 text-13 md:-mx-6 md:px-6"
    >
      <p role="status" className="font-semibold">
        {every ? `All ${counted(size, "piece")} that fit chosen` : `${counted(size, "piece")} chosen`}
      </p>
      <ButtonLink look="go" to="/together">
        Do one thing to {size === 1 ? "it" : "them"}
      </ButtonLink>
      {!whole && (
        <Button
          look="word"
          type="button"
          onClick={() => set({ ids: [...new Set([...("ids" in choice ? choice.ids : []), ...shown])] })}
        >
          Choose all {shown.length} shown
        </Button>
      )}
      {!every && all && whole && all.total > size && (
        <Button look="word" type="button" onClick={() => set({ all: all.query, total: all.total })}>
          Choose all {all.total} that fit
        </Button>
      )}
      <Button look="word" type="button" onClick={() => set({ ids: [] })}>
        Let go of {size === 1 ? "it" : "them"}
      </Button>
    </section>
  );
}

import { useRef } from "react";
import { useBusy } from "#app/ui/action-form.tsx";
import { Button, ButtonLink } from "#app/ui/button.tsx";
import { TextArea } from "#app/ui/field.tsx";
import { useFocusAfter } from "#app/ui/focus-after.ts";
import { Fold } from "#app/ui/fold.tsx";
import { Framed, type PanelProps, PieceForm } from "./framed.tsx";

/** What a piece was asked for: whoever was asked takes it on or hands it back; later it is there to be read. */
export function Commission({ page, answer }: Omit<PanelProps, "saving">) {
  const busy = useBusy("take-on");
  const asked = page.commission;
  // Once it is taken on, what was asked for is there to be read.
  const told = useRef<HTMLDivElement>(null);
  useFocusAfter(() => told.current?.querySelector<HTMLElement>("summary, button"));
  if (!asked) return null;
  if (!asked.asks)
    return (
      <div ref={told}>
        <Fold summary={`What ${asked.by} asked for`} className="mt-2">
          <Brief text={asked.brief} />
        </Fold>
      </div>
    );
  return (
    <section aria-label="What you are asked for" className="mt-3 border-l-3 border-blue bg-paper py-1.5 pl-3">
      <p className="font-semibold">{asked.by} asks you to write this.</p>
      <Brief text={asked.brief} />
      <div className="mt-1.5 flex flex-wrap gap-2">
        <PieceForm intent="take-on" page={page} answer={answer}>
          <Button look="go" busy={busy}>
            Take it on
          </Button>
        </PieceForm>
        <ButtonLink to="?do=hand-back" preventScrollReset>
          Hand it back
        </ButtonLink>
      </div>
    </section>
  );
}

const Brief = ({ text }: { text: string }) => (
  <p className="max-w-160 whitespace-pre-line break-words text-13">{text || "Without a brief."}</p>
);

/** Hands a piece back to who asked for it, with the reason. */
export function HandingBack({ page, answer }: PanelProps) {
  const busy = useBusy("hand-back");
  return (
    <Framed title="Hand it back" intent="hand-back" page={page} answer={answer}>
      <TextArea label="Why you hand it back" name="note" required maxLength={4000} />
      <Button look="go" busy={busy}>
        Hand it back
      </Button>
    </Framed>
  );
}

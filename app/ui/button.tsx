import type { ComponentProps, MouseEvent, ReactNode } from "react";
import { Link, type LinkProps } from "react-router";
import { Tooltip } from "./tooltip.tsx";

/**
 * How a button looks: `go` is the one action a place is for, `quiet` one beside it, `word` stands in
 * a sentence or a row, `bare` brings a look of its own.
 */
type Look = "plain" | "go" | "quiet" | "word" | "bare";

const box =
  "inline-flex min-h-(--control) items-center justify-center whitespace-nowrap rounded border px-3 text-13 font-semibold leading-none";
const off =
  "aria-disabled:border-rule aria-disabled:bg-transparent aria-disabled:text-rail aria-disabled:hover:bg-transparent aria-disabled:cursor-not-allowed disabled:border-rule disabled:bg-transparent disabled:text-rail disabled:hover:bg-transparent disabled:cursor-not-allowed";
const LOOKS: Record<Look, string> = {
  plain: `${box} ${off} border-ink bg-paper text-ink hover:bg-platform`,
  go: `${box} ${off} border-blue bg-blue text-paper hover:border-ink hover:bg-ink hover:text-paper`,
  quiet: `${box} ${off} border-transparent text-blue hover:bg-platform`,
  word: "inline-block min-h-6 min-w-6 font-semibold text-blue underline-offset-3 hover:underline aria-disabled:text-rail disabled:text-rail",
  bare: "min-h-6 min-w-6 disabled:cursor-not-allowed",
};

interface Dress {
  look?: Look;
  className?: string | undefined;
}

const dressed = ({ look = "plain", className = "" }: Dress) => `${LOOKS[look]} ${className}`;

/**
 * A button.
 *
 * @param busy what it does is on its way: it keeps the keyboard, and does nothing meanwhile
 */
export function Button({
  look,
  className,
  busy = false,
  onClick,
  ...rest
}: ComponentProps<"button"> & Dress & { busy?: boolean }) {
  const clicked = (event: MouseEvent<HTMLButtonElement>) => (busy ? event.preventDefault() : onClick?.(event));
  return (
    <button
      type="submit"
      aria-disabled={busy || undefined}
      aria-busy={busy || undefined}
      onClick={clicked}
      className={`${dressed({ look, className })} ${busy ? "cursor-progress!" : ""}`}
      {...rest}
    />
  );
}

/** A link that looks like a button. */
export function ButtonLink({ look, className, ...rest }: LinkProps & Dress) {
  return <Link className={dressed({ look, className })} {...rest} />;
}

/** A link in a sentence. */
export function TextLink({ className = "", ...rest }: LinkProps) {
  return <Link className={`text-blue underline underline-offset-3 hover:no-underline ${className}`} {...rest} />;
}

/** A button of a sign alone; its name is said, and shown to who points at it. */
export function IconButton({
  label,
  keys,
  children,
  ...rest
}: ComponentProps<typeof Button> & { label: string; keys?: string; children: ReactNode }) {
  return (
    <Tooltip says={keys ? `${label} (${keys})` : label}>
      <Button
        type="button"
        look="bare"
        aria-label={label}
        className="inline-flex items-center justify-center rounded px-1 hover:bg-platform aria-pressed:bg-ink aria-pressed:text-paper disabled:text-rail"
        {...rest}
      >
        {children}
      </Button>
    </Tooltip>
  );
}

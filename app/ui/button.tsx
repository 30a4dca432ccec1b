import type { ButtonHTMLAttributes } from "react";
import { Link, type LinkProps } from "react-router";

type Look = "plain" | "go" | "quiet";

const base =
  "inline-flex h-7 items-center justify-center whitespace-nowrap rounded border px-3 text-13 font-semibold leading-none";
const looks: Record<Look, string> = {
  plain: "border-ink bg-paper text-ink hover:bg-platform",
  go: "border-blue bg-blue text-paper hover:bg-ink hover:border-ink",
  quiet: "border-transparent text-blue hover:bg-platform",
};
const off =
  "aria-disabled:border-rule aria-disabled:bg-transparent aria-disabled:text-rail aria-disabled:hover:bg-transparent aria-disabled:cursor-not-allowed disabled:border-rule disabled:bg-platform disabled:text-rail disabled:cursor-progress";

/** A button; `go` is the one action a place is for. */
export function Button({
  look = "plain",
  className = "",
  ...rest
}: ButtonHTMLAttributes<HTMLButtonElement> & { look?: Look }) {
  return <button type="submit" className={`${base} ${looks[look]} ${off} ${className}`} {...rest} />;
}

/** A link that looks like a button. */
export function ButtonLink({ look = "plain", className = "", ...rest }: LinkProps & { look?: Look }) {
  return <Link className={`${base} ${looks[look]} ${className}`} {...rest} />;
}

import { type ComponentType, lazy, Suspense } from "react";

/**
 * A part whose scripts are not among the first of its page: the server draws it like all else, and it hears a moment
 * after the page does.
 *
 * @param load brings it, by an `import()`
 */
export function later<Props extends object>(load: () => Promise<ComponentType<Props>>): ComponentType<Props> {
  const Part = lazy(async () => ({ default: await load() }));
  // What is not shown yet is there by the time somebody asks for it.
  if (typeof document !== "undefined") (window.requestIdleCallback ?? setTimeout)(() => void load().catch(() => null));
  return (props: Props) => (
    <Suspense fallback={null}>
      <Part {...props} />
    </Suspense>
  );
}

import type { ReactNode } from "react";

/** A "no" or a warning, where the person acted; read out at once. */
export function Message({ children, more = [] }: { children: ReactNode; more?: readonly string[] }) {
  return (
    <div role="alert" className="border-l-3 border-red bg-paper py-2 pl-3 pr-2 text-13">
      <p className="font-semibold text-red">{children}</p>
      {more.length > 0 && (
        <ul className="mt-1 space-y-0.5">
          {more.map((line) => (
            <li key={line} className="break-words">
              {line}
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}

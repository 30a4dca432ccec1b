import type { ReactNode } from "react";

/** A "no" or a warning, where the person acted; read out at once. */
export function Message({ children, more = [] }: { children: ReactNode; more?: readonly string[] }) {
  return (
    <div role="alert" className="border-l-3 border-red bg-paper py-2 pl-3 pr-2 text-13">
      <div className="font-semibold text-red">{children}</div>
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

/** What became of something, said without a fuss. */
export const Status = ({ children, className = "" }: { children: ReactNode; className?: string }) => (
  <p role="status" className={`text-13 ${className}`}>
    {children}
  </p>
);

/** What one should know before acting; not an error. */
export const Hint = ({ children }: { children: ReactNode }) => (
  <div className="border-l-3 border-yellow bg-paper px-3 py-1.5 text-13">{children}</div>
);

/** A word below or beside something, in small. */
export const Aside = ({ children, className = "" }: { children: ReactNode; className?: string }) => (
  <p className={`text-13 text-rail ${className}`}>{children}</p>
);

/** A list without rows: why, and what one may do about it. */
export const Empty = ({ children, act }: { children: ReactNode; act?: ReactNode }) => (
  <div className="mt-6 text-rail">
    <p>{children}</p>
    {act && <p className="mt-2">{act}</p>}
  </div>
);

/** Long work on its way. @param done how much of `all`; left out where nobody knows */
export function Progress({ says, done, all = 1 }: { says: string; done?: number; all?: number }) {
  return (
    <div className="text-13">
      <p role="status">{says}</p>
      <progress
        aria-label={says}
        max={all}
        {...(done !== undefined && { value: done })}
        className="mt-1 h-1 w-full appearance-none accent-blue [&::-webkit-progress-bar]:bg-rule [&::-webkit-progress-value]:bg-blue"
      />
    </div>
  );
}

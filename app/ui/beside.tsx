import type { ReactNode } from "react";
import { Link } from "react-router";

/** A list that makes room for what is chosen of it. */
export function Split({ beside, children }: { beside: ReactNode; children: ReactNode }) {
  return (
    <div className={beside ? "grid grid-cols-[minmax(0,1fr)] lg:grid-cols-[minmax(0,1fr)_316px]" : ""}>
      <div className="min-w-0 px-4 py-5 md:px-6">{children}</div>
      {beside}
    </div>
  );
}

/** What is chosen, beside its list. */
export function Beside({ children, ...head }: { title: ReactNode; leave: string; children: ReactNode }) {
  return (
    <aside className="border-rule px-4 py-5 lg:border-l">
      <PanelHead {...head} />
      {children}
    </aside>
  );
}

/** What a panel is about, and the way back; Esc takes it too. */
export function PanelHead({ title, leave }: { title: ReactNode; leave: string }) {
  return (
    <div className="mb-3 flex items-baseline justify-between gap-3">
      <h2 className="min-w-0 break-words text-15! font-bold">{title}</h2>
      <Link data-back to={leave} className="text-13 text-blue">
        Leave
      </Link>
    </div>
  );
}

import type { ReactNode } from "react";

/** A page outside the workshop with one thing to do: signing in, joining, a first start. */
export function Door({ title, children }: { title: string; children: ReactNode }) {
  return (
    <main className="mx-auto max-w-96 px-5 py-[10vh]">
      <h1 className="mb-5">{title}</h1>
      {children}
    </main>
  );
}

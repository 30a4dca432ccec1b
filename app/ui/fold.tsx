import type { ReactNode } from "react";

/** What is seldom needed, behind a word that says what it is. @param open whether it must be seen now */
export const Fold = ({
  summary,
  open = false,
  className = "",
  children,
}: {
  summary: ReactNode;
  open?: boolean;
  className?: string;
  children: ReactNode;
}) => (
  <details className={className} {...(open && { open })}>
    <summary className="w-fit min-h-7 cursor-pointer py-0.5 text-13 font-semibold text-blue">{summary}</summary>
    {children}
  </details>
);

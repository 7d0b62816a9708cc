/** The head of a page with its title and actions, and the content below. */
import type { ReactNode } from 'react';

export interface PageProps {
  title: string;
  /** Beside the title. */
  aside?: ReactNode;
  actions?: ReactNode;
  children: ReactNode;
}

export function Page({ title, aside, actions, children }: PageProps) {
  return (
    <section aria-label={title} className="flex h-full min-h-0 flex-col px-4.5 pt-3.5">
      <header className="flex min-h-9 flex-wrap items-center gap-3 pb-3">
        <h1 className="text-xl font-bold">{title}</h1>
        {aside}
        <div className="ml-auto flex items-center gap-2.5 print:hidden">{actions}</div>
      </header>
      {children}
    </section>
  );
}

/** The text of an empty page, and what to do first. */
export function Empty({ words, children }: { words: string; children?: ReactNode }) {
  return (
    <div className="border-t border-rule px-4 py-10 text-center text-ink-2">
      <p className="pb-4">{words}</p>
      {children}
    </div>
  );
}

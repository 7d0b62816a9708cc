/** The head of a page with its title and actions, and the content below. */
import type { ReactNode } from 'react';
import type { Role } from '@tawny-signal/core/people/roles';
import { AlsoHere } from '../people/also-here';
import { NotOfTheShow } from './read-only';

export interface PageProps {
  title: string;
  /** Beside the title. */
  aside?: ReactNode;
  actions?: ReactNode;
  /** False if nothing on the page changes the show, so that its fields work while the show is locked. */
  editsShow?: boolean;
  /** The role that its fields need, if it does not edit the show. */
  needs?: Role;
  children: ReactNode;
}

export function Page({ editsShow = true, needs = 'onlooker', ...props }: PageProps) {
  if (!editsShow)
    return (
      <NotOfTheShow needs={needs}>
        <Frame {...props} />
      </NotOfTheShow>
    );
  return (
    <Frame {...props}>
      <AlsoHere />
      {props.children}
    </Frame>
  );
}

function Frame({ title, aside, actions, children }: Omit<PageProps, 'editsShow' | 'needs'>) {
  return (
    <section
      aria-label={title}
      className="relative flex h-full min-h-0 flex-col px-3 pt-2.5 lg:px-4.5 lg:pt-3.5"
    >
      <header className="flex min-h-9 flex-wrap items-center gap-x-3 gap-y-1.5 pb-2.5">
        <h1 className="text-xl font-bold">{title}</h1>
        {aside}
        <div className="ml-auto flex flex-wrap items-center gap-2 print:hidden">{actions}</div>
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

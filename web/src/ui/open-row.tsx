/** A row with its number in the margin that opens in place. Enter or a click opens it, Escape closes it. */
import type { CSSProperties, ReactNode } from 'react';
import { useInView } from './use-in-view';

interface OpenRowProps {
  number: number;
  open: boolean;
  toggle: () => void;
  /** Widths of the columns after the number, as a grid template. */
  columns: string;
  /** Data attributes by which it can be found, with their values. */
  data: Record<`data-${string}`, string>;
  summary: ReactNode;
  /** The content below it while it is open. */
  children: ReactNode;
}

export function OpenRow({ number, open, toggle, columns, data, summary, children }: OpenRowProps) {
  const row = useInView<HTMLLIElement>(open);
  return (
    <li
      ref={row}
      {...data}
      className={`relative border-b border-l-3 border-rule ${open ? 'border-l-tawny bg-bark' : 'border-l-transparent'}`}
      onKeyDown={(event) => {
        if (event.key !== 'Escape' || !open) return;
        toggle();
        event.currentTarget.querySelector<HTMLElement>('[data-row]')?.focus();
      }}
    >
      <button
        type="button"
        data-row
        aria-expanded={open}
        onClick={toggle}
        style={{ '--columns': `44px ${columns}` } as CSSProperties}
        className="row-grid min-h-12 max-lg:py-1.5 w-full items-center text-left hover:bg-bark"
      >
        <span
          className={`self-stretch border-r border-rule pr-2.5 text-right font-mono ${open ? 'text-tawny' : 'text-ink-3'}`}
        >
          <span className="inline-flex h-full items-center">{number}</span>
        </span>
        {summary}
      </button>
      {open && children}
    </li>
  );
}

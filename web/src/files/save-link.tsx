/** A link that downloads a file of ours. */
import { Download } from 'lucide-react';
import type { ReactNode } from 'react';

interface SaveLinkProps {
  href: string;
  /** The name of the file, without its ending. */
  name: string;
  kind: 'show' | 'bank' | 'layout' | 'csv';
  children: ReactNode;
}

/** Makes a name that every file system accepts. */
const fileName = (name: string, kind: SaveLinkProps['kind']): string => {
  const plain =
    name
      .trim()
      .toLowerCase()
      .replace(/[^a-z0-9]+/g, '-')
      .replace(/^-|-$/g, '') || kind;
  return kind === 'csv' ? `${plain}.csv` : `${plain}.${kind}.json`;
};

export function SaveLink({ href, name, kind, children }: SaveLinkProps) {
  return (
    <a
      href={href}
      download={fileName(name, kind)}
      className="inline-flex min-h-8 items-center gap-1.5 rounded border border-rule px-2.5 text-sm hover:bg-bark-2"
    >
      <Download size={14} aria-hidden /> {children}
    </a>
  );
}

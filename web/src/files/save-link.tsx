/** A link that downloads a file of ours. The server names the file. */
import { Download } from 'lucide-react';
import type { ReactNode } from 'react';

interface SaveLinkProps {
  href: string;
  children: ReactNode;
}

export function SaveLink({ href, children }: SaveLinkProps) {
  return (
    <a
      href={href}
      download
      className="inline-flex min-h-8 items-center gap-1.5 rounded border border-rule px-3 hover:bg-bark-2"
    >
      <Download size={14} aria-hidden /> {children}
    </a>
  );
}

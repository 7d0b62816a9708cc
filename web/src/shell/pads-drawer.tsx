/** The pads and faders on the screen, beside any page, so that Learn and Why? can be used with them. */
import { X } from 'lucide-react';
import { Suspense } from 'react';
import { IconButton } from '../ui/button';
import { NotOfTheShow } from '../ui/read-only';
import { PierPads } from './later';

export function PadsDrawer({ close }: { close: () => void }) {
  return (
    <aside
      aria-label="Pads on the screen"
      className="relative shrink-0 overflow-y-auto border-rule bg-raised p-3 max-lg:max-h-[45%] max-lg:border-t lg:w-80 lg:border-l print:hidden"
    >
      <IconButton label="Close the pads" className="absolute! top-2 right-2" onClick={close}>
        <X size={16} aria-hidden />
      </IconButton>
      <NotOfTheShow needs="operator">
        <Suspense>
          <PierPads />
        </Suspense>
      </NotOfTheShow>
    </aside>
  );
}

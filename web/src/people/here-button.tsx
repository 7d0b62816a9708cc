/** The others who are here, in the top bar. */
import { useState } from 'react';
import { Users } from 'lucide-react';
import { count } from '@tawny-signal/core/plural';
import { IconButton } from '../ui/button';
import { Pop } from '../ui/pop';
import { useHere } from './here';
import { HereList } from './here-list';

/** Nothing while nobody else is here. */
export function HereButton() {
  const [open, setOpen] = useState(false);
  const { count: pages } = useHere();
  if (pages < 2 && !open) return null;
  return (
    <Pop
      align="end"
      width="w-88"
      open={open}
      setOpen={setOpen}
      trigger={
        <IconButton label={`Here now: ${count(pages, 'page')}`}>
          <Users size={17} aria-hidden />
        </IconButton>
      }
    >
      <h2 className="pb-1 text-base font-semibold">Here now</h2>
      <div className="max-h-96 overflow-y-auto">
        <HereList went={() => setOpen(false)} />
      </div>
    </Pop>
  );
}

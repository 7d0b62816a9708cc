import { Download } from 'lucide-react';
import { useState } from 'react';
import type { Show } from '@tawny-signal/core/show';
import type { Passing } from '../live/traffic-log';
import { Button } from '../ui/button';
import { Pop } from '../ui/pop';
import { download, saveTraffic, type SaveFormat } from './save';

const FORMATS: { format: SaveFormat; words: string }[] = [
  { format: 'jsonl', words: 'JSON lines' },
  { format: 'csv', words: 'CSV, for a spreadsheet' },
  { format: 'mid', words: 'MIDI file' },
];

/** A button that saves what is shown. @param records the oldest first */
export function SaveButton({ records, show }: { records: () => readonly Passing[]; show: Show }) {
  const [open, setOpen] = useState(false);
  return (
    <Pop
      align="end"
      width="w-56"
      open={open}
      setOpen={setOpen}
      trigger={
        <Button>
          <Download size={15} aria-hidden /> Save
        </Button>
      }
    >
      <p className="pb-1 text-ink-2">What is shown, as</p>
      {FORMATS.map(({ format, words }) => (
        <Button
          key={format}
          look="bare"
          className="w-full justify-start!"
          onClick={() => {
            download(saveTraffic(format, records(), show));
            setOpen(false);
          }}
        >
          {words}
        </Button>
      ))}
      <p className="pt-1 text-xs text-ink-3">
        A MIDI file has the notes, controllers and system-exclusive messages, a track for each line.
      </p>
    </Pop>
  );
}

/** The menu to print the running order, and to export and import it as a table. */
import { Printer } from 'lucide-react';
import { useState } from 'react';
import { SaveLink } from '../files/save-link';
import { TableImport } from '../files/table-import';
import { Button } from '../ui/button';
import { Pop } from '../ui/pop';

export type Paper = 'all' | 'byLine';

interface PaperMenuProps {
  print: (paper: Paper) => void;
}

export function PaperMenu({ print }: PaperMenuProps) {
  const [open, setOpen] = useState(false);
  const printed = (paper: Paper) => () => {
    setOpen(false);
    print(paper);
  };
  return (
    <Pop
      align="end"
      width="w-96"
      open={open}
      setOpen={setOpen}
      trigger={
        <Button>
          <Printer size={15} aria-hidden /> Print and export
        </Button>
      }
    >
      <div className="flex flex-wrap gap-1.5">
        <Button onClick={printed('all')}>Print the sheet</Button>
        <Button onClick={printed('byLine')}>Print a page for each line</Button>
      </div>
      <div className="mt-3 flex flex-wrap gap-1.5 border-t border-rule pt-3">
        <SaveLink href="/api/files/moments.csv">Export CSV</SaveLink>
        <TableImport path="files/moments.csv" noun="moment">
          Import CSV
        </TableImport>
      </div>
      <p className="pt-2 text-xs text-ink-3">
        A row is a moment, a column a line. A cue that is there already is changed where the table has
        columns.
      </p>
    </Pop>
  );
}

/** The settings of the open show, and its files. */
import { FolderOpen, Network, QrCode } from 'lucide-react';
import { useState, type ReactNode } from 'react';
import { Link } from 'react-router';
import type { Settings } from '@tawny-signal/core/show';
import { useChangeSettings, useShow } from '../show/show';
import { OpenFile } from '../files/open-file';
import { SaveLink } from '../files/save-link';
import { TableImport } from '../files/table-import';
import { Invitation } from '../people/invitation';
import { useMay } from '../people/me';
import { usePeople } from '../people/people';
import { Button } from '../ui/button';
import { Choice } from '../ui/choice';
import type { Option } from '../ui/select';
import { TypedField } from '../ui/typed-field';

type MiddleC = `${Settings['middleC']}`;
const MIDDLE_C: Option<MiddleC>[] = [
  { value: '3', words: 'C3' },
  { value: '4', words: 'C4' },
  { value: '5', words: 'C5' },
];

interface MenuLinkProps {
  to: string;
  went: () => void;
  children: ReactNode;
}

const MenuLink = ({ to, went, children }: MenuLinkProps) => (
  <Link
    to={to}
    onClick={went}
    className="inline-flex min-h-8 items-center gap-1.5 rounded border border-rule px-3 hover:bg-bark-2"
  >
    {children}
  </Link>
);

/** A code for the camera of a phone, while the page is open to other machines. */
function BringHere() {
  const people = usePeople();
  const [open, setOpen] = useState(false);
  if (!people?.addresses.some(({ here }) => !here)) return null;
  return (
    <>
      <Button aria-expanded={open} onClick={() => setOpen(!open)}>
        <QrCode size={14} aria-hidden /> Bring a phone here
      </Button>
      {open && (
        <div className="w-full pt-2">
          <Invitation people={people} />
        </div>
      )}
    </>
  );
}

/** @param close closes what it is shown in */
export function ShowSettings({ close }: { close: () => void }) {
  const { settings } = useShow();
  const change = useChangeSettings();
  const isOperator = useMay('operator');
  return (
    <>
      <TypedField label="Show" value={settings.name} commit={(name) => change.mutateAsync({ name })} />
      <Choice
        label="Note 60 is"
        value={`${settings.middleC}` as MiddleC}
        options={MIDDLE_C}
        hint="Programs call the middle C by different octaves. Numbers stay beside the names."
        choose={(middleC) => change.mutateAsync({ middleC: Number(middleC) as Settings['middleC'] })}
      />
      <div className="mt-3 flex flex-wrap gap-1.5">
        <MenuLink to="/shows" went={close}>
          <FolderOpen size={14} aria-hidden /> Shows and versions
        </MenuLink>
        <MenuLink to="/people" went={close}>
          <Network size={14} aria-hidden /> Network and people
        </MenuLink>
        {isOperator && <BringHere />}
      </div>
      <div className="mt-3 flex flex-wrap gap-1.5 border-t border-rule pt-3">
        <SaveLink href="/api/files/show">Save the show</SaveLink>
        <OpenFile kind="bank" words="Open a bank" />
        <SaveLink href="/api/files/mappings.csv">Export mappings as CSV</SaveLink>
        <TableImport path="files/mappings.csv" noun="mapping">
          Import mappings from CSV
        </TableImport>
      </div>
    </>
  );
}

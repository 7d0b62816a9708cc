/** The banks: sets of mappings, on or off together. */
import { Ellipsis } from 'lucide-react';
import type { Bank } from '@tawny-signal/core/show/bank';
import { freeName } from '../show/free-name';
import { RemoveButton } from '../show/removing';
import { useAddBank, useChangeBank, useShow } from '../show/show';
import { SaveLink } from '../files/save-link';
import { BareButton, Button } from '../ui/button';
import { Pop } from '../ui/pop';
import { TypedField } from '../ui/typed-field';

export function BankBar() {
  const show = useShow();
  const add = useAddBank();
  return (
    <div role="group" aria-label="Banks" className="flex flex-wrap items-center gap-2">
      {show.banks.map((bank) => (
        <BankChip key={bank.id} bank={bank} />
      ))}
      <Button needs="edit" look="bare" onClick={() => add.mutate(freeName(show.banks, 'New bank'))}>
        + bank
      </Button>
    </div>
  );
}

function BankChip({ bank }: { bank: Bank }) {
  const change = useChangeBank();
  const look = bank.on ? 'bg-bark-2 text-ink' : 'text-ink-2';
  return (
    <span className={`inline-flex items-center rounded border border-rule ${look}`}>
      <BareButton
        needs="caller"
        aria-pressed={bank.on}
        title={
          bank.on
            ? 'On: its mappings work. Press to switch off.'
            : 'Off: its mappings do nothing. Press to switch on.'
        }
        className="inline-flex min-h-8 items-center gap-2 pl-3 text-sm"
        onClick={() => change.mutate({ id: bank.id, change: { on: !bank.on } })}
      >
        <svg width="9" height="9" viewBox="0 0 9 9" aria-hidden>
          <circle
            cx="4.5"
            cy="4.5"
            r="3.7"
            fill={bank.on ? 'var(--moss)' : 'none'}
            stroke={bank.on ? 'var(--moss)' : 'var(--ink-3)'}
          />
        </svg>
        {bank.name}
        {bank.group && <span className="text-xs text-ink-3">{bank.group}</span>}
        {!bank.on && <span className="text-xs">off</span>}
      </BareButton>
      <Pop
        align="start"
        width="w-76"
        trigger={
          <button
            type="button"
            className="min-h-8 px-1.5 text-ink-3 hover:text-ink"
            aria-label={`Change bank ${bank.name}`}
          >
            <Ellipsis size={14} aria-hidden />
          </button>
        }
      >
        <TypedField
          label="Name"
          value={bank.name}
          commit={(name) => change.mutateAsync({ id: bank.id, change: { name } })}
        />
        <TypedField
          label="Group"
          value={bank.group}
          placeholder="none"
          hint="Switching on one bank of a group switches the others off."
          commit={(group) => change.mutateAsync({ id: bank.id, change: { group } })}
        />
        <div className="flex flex-wrap gap-1 pt-2">
          <Button needs="caller" onClick={() => change.mutate({ id: bank.id, change: { act: 'only' } })}>
            This one only
          </Button>
          <SaveLink href={`/api/files/bank/${bank.id}`}>Save as a file</SaveLink>
        </div>
        <div className="pt-2">
          <RemoveButton table="banks" row={bank}>
            Remove bank
          </RemoveButton>
        </div>
      </Pop>
    </span>
  );
}

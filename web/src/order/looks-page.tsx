/** Looks, which moments send, and groups of slots, which levels refer to. */
import { Plus } from 'lucide-react';
import { useState } from 'react';
import { momentName } from '@tawny-signal/core/show/moment-name';
import type { Group, Look } from '@tawny-signal/core/show/look';
import type { Show } from '@tawny-signal/core/show';
import {
  levelsFrom,
  readLevels,
  readSlotList,
  writeLevels,
  writeSlotList,
} from '@tawny-signal/core/typed/levels';
import { protocolOf } from '../lines/kinds';
import { call } from '../show/api';
import { RemoveButton } from '../show/removing';
import { useAddRow, useChangeRow, useShow } from '../show/show';
import { Button } from '../ui/button';
import { Choice } from '../ui/choice';
import { orThrow } from '../ui/or-throw';
import { Page } from '../ui/page';
import { TypedField } from '../ui/typed-field';
import { Tabs } from './tabs';

/** Returns a name that is not used yet. */
function freeName(rows: readonly { name: string }[], base: string): string {
  for (let at = 1; ; at++) {
    const name = `${base} ${at}`;
    if (!rows.some((row) => row.name.toLowerCase() === name.toLowerCase())) return name;
  }
}

export function LooksPage() {
  const show = useShow();
  return (
    <Page title="Running order" aside={<Tabs at="Looks" />}>
      <div className="grid min-h-0 flex-1 content-start gap-6 lg:grid-cols-[minmax(0,1.5fr)_minmax(0,1fr)] overflow-y-auto pb-4">
        <Looks show={show} />
        <Groups show={show} />
      </div>
    </Page>
  );
}

function Looks({ show }: { show: Show }) {
  const add = useAddRow('looks');
  return (
    <section aria-label="Looks">
      <header className="flex flex-wrap items-center gap-x-3 border-b border-rule pb-1.5">
        <h2 className="text-lg font-semibold">Looks</h2>
        <p className="text-sm text-ink-2">Levels under a name. A moment sends one to a line, with a fade.</p>
        <Button
          needs="edit"
          className="ml-auto"
          onClick={() =>
            add.mutate({ name: freeName(show.looks, 'Look'), levels: [{ slots: [1, 1], level: 255 }] })
          }
        >
          <Plus size={15} aria-hidden /> Add a look
        </Button>
      </header>
      {show.looks.length === 0 && <p className="py-3 text-ink-2">There are no looks yet.</p>}
      <ul>
        {show.looks.map((look) => (
          <LookRow key={look.id} look={look} show={show} />
        ))}
      </ul>
    </section>
  );
}

/** The moments that send a look. */
const sentBy = ({ moments }: Show, lookId: string): string =>
  moments
    .filter(({ sends }) => sends.some((one) => one.kind === 'look' && one.lookId === lookId))
    .map(momentName)
    .join(', ');

function LookRow({ look, show }: { look: Look; show: Show }) {
  const change = useChangeRow('looks');
  const [took, setTook] = useState(0);
  const save = (of: Partial<Look>): Promise<unknown> => change.mutateAsync({ id: look.id, change: of });
  const used = sentBy(show, look.id);
  const lines = show.lines.filter((line) => protocolOf(line) === 'dmx');
  async function takeFrom(lineId: string): Promise<void> {
    const levels = levelsFrom(await call<number[]>('GET', `desk/levels/${lineId}`));
    if (levels.length === 0) throw new Error('Every slot of this line is off. Send it something first.');
    await save({ levels });
    setTook(took + 1);
  }
  return (
    <li className="border-b border-rule py-2" data-look={look.id}>
      <div className="flex items-start gap-2">
        <div className="min-w-0 flex-1">
          <TypedField label="Look" value={look.name} commit={(name) => save({ name })} />
          <TypedField
            label="Levels"
            value={writeLevels(look.levels, show.groups)}
            hint="Like 1-12 at 50 %, 101 at full, or a group: Deck at 20 %."
            unit="%"
            understood={(text) => {
              const read = readLevels(text, show.groups);
              return read.ok ? writeLevels(read.value, show.groups) : null;
            }}
            commit={(text) => save({ levels: orThrow(readLevels(text, show.groups)) })}
          />
          {lines.length > 0 && (
            <Choice
              key={took}
              label="Copy from"
              value={null}
              placeholder="the levels of a line now"
              options={lines.map(({ id, name }) => ({ value: id, words: `${name}, as it is now` }))}
              choose={takeFrom}
            />
          )}
          <p className="pl-24 text-xs text-ink-3">
            {used === '' ? 'No moment sends it.' : `Sent by ${used}.`}
          </p>
        </div>
        <RemoveButton table="looks" row={look} />
      </div>
    </li>
  );
}

function Groups({ show }: { show: Show }) {
  const add = useAddRow('groups');
  return (
    <section aria-label="Groups">
      <header className="flex flex-wrap items-center gap-x-3 border-b border-rule pb-1.5">
        <h2 className="text-lg font-semibold">Groups</h2>
        <p className="text-sm text-ink-2">Slots under a name.</p>
        <Button
          needs="edit"
          className="ml-auto"
          onClick={() => add.mutate({ name: freeName(show.groups, 'Group'), slots: [[1, 1]] })}
        >
          <Plus size={15} aria-hidden /> Add a group
        </Button>
      </header>
      {show.groups.length === 0 && (
        <p className="py-3 text-ink-2">
          There are no groups yet. With one, “1-12 at 50 %” can be written “Deck at 50 %”.
        </p>
      )}
      <ul>
        {show.groups.map((group) => (
          <GroupRow key={group.id} group={group} />
        ))}
      </ul>
    </section>
  );
}

function GroupRow({ group }: { group: Group }) {
  const change = useChangeRow('groups');
  const save = (of: Partial<Group>): Promise<unknown> => change.mutateAsync({ id: group.id, change: of });
  return (
    <li className="flex items-start gap-2 border-b border-rule py-2" data-group={group.id}>
      <div className="min-w-0 flex-1">
        <TypedField label="Group" value={group.name} commit={(name) => save({ name })} />
        <TypedField
          label="Slots"
          value={writeSlotList(group.slots)}
          hint="Like 1-12, 20."
          commit={(text) => save({ slots: orThrow(readSlotList(text)) })}
        />
      </div>
      <RemoveButton table="groups" row={group} />
    </li>
  );
}

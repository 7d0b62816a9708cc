/** How far the page is open, who may in, and who is in. */
import { useState } from 'react';
import type { Opening, PeopleSeen, Shown } from '@tawny-signal/core/people/people';
import { ROLE_WORDS, ROLES, type Role } from '@tawny-signal/core/people/roles';
import { Button } from '../ui/button';
import { Choice } from '../ui/choice';
import { Page } from '../ui/page';
import { Switch } from '../ui/switch';
import { HereList } from './here-list';
import { CertificateBox } from './certificate-box';
import { Invitation } from './invitation';
import { useMay } from './me';
import { People } from './people-list';
import { useNewPassphrase, useOpen, usePeople } from './people';
import { Sessions } from './session-list';
import { ShownOnce } from './shown-once';

export function PeoplePage() {
  const may = useMay('operator');
  return (
    <Page title="Network and people" editsShow={false}>
      <div className="min-h-0 flex-1 overflow-y-auto border-t border-rule pb-8">
        <section aria-label="Here now" className="max-w-xl pt-4 pb-8">
          <h2 className="pb-1 font-semibold">Here now</h2>
          <HereList />
        </section>
        {may ? <Open /> : <p className="text-ink-2">Operators see here who may in, too.</p>}
      </div>
    </Page>
  );
}

function Open() {
  const people = usePeople();
  const [shown, setShown] = useState<Shown>({});
  if (!people) return null;
  const show = (more: Shown): void => setShown((before) => ({ ...before, ...more }));
  const isOpen = people.addresses.some(({ here }) => !here);
  return (
    <div className="max-w-4xl space-y-8 pt-4">
      <ShownOnce shown={shown} done={() => setShown({})} />
      <OpenTo people={people} show={show} />
      {people.certificate && <CertificateBox certificate={people.certificate} />}
      {isOpen && <Invitation people={people} />}
      <Passphrases people={people} show={show} />
      <People people={people} />
      <Sessions people={people} />
    </div>
  );
}

const HERE = 'here';
const NOT_ENCRYPTED =
  'other machines on that network, not encrypted: browsers give no MIDI and no sound to such a page';

interface PartProps {
  people: PeopleSeen;
  show: (shown: Shown) => void;
}

function OpenTo({ people, show }: PartProps) {
  const open = useOpen();
  const { opening, own, addresses, troubles, fixed } = people;
  const chosen = opening.listen[0] ?? HERE;
  const change = async (next: Partial<Opening>): Promise<void> =>
    show(await open.mutateAsync({ ...opening, ...next }));
  const options = [
    { value: HERE, words: 'This machine only' },
    { value: 'all', words: 'Other machines, at every address' },
    ...[...new Set([...own, ...opening.listen])]
      .filter((address) => address !== 'all')
      .map((address) => ({ value: address, words: `Other machines, at ${address}` })),
  ];
  return (
    <section aria-label="Open to">
      {fixed.listen ? (
        <p className="pb-2 text-ink-2">
          The start command says where the page is open: {opening.listen.join(', ')}. Start without --listen
          to choose it here.
        </p>
      ) : (
        <div className="max-w-lg">
          <Choice
            label="Open to"
            value={chosen}
            options={options}
            hint="Other machines sign in with a passphrase. Lines keep their own addresses: this opens only the page."
            choose={(value) => change({ listen: value === HERE ? [] : [value] })}
          />
        </div>
      )}
      {fixed.tls ? (
        <p className="text-ink-2">What other machines are served is encrypted: the start command says so.</p>
      ) : (
        <Switch
          label="Encrypt what other machines are served (TLS)"
          on={opening.tls}
          change={(tls) => void change({ tls }).catch(() => undefined)}
        />
      )}
      <div>
        <Switch
          label="Pages of this machine sign in too"
          on={opening.hereToo}
          change={(hereToo) => void change({ hereToo }).catch(() => undefined)}
        />
      </div>
      {addresses.some(({ here }) => !here) && (
        <div>
          <Switch
            label="Announce the page on the network, so that phones find it by name"
            on={opening.announce}
            change={(announce) => void change({ announce }).catch(() => undefined)}
          />
          {people.announced && (
            <p className={`pb-1 text-sm ${people.announced.trouble ? 'text-brick' : 'text-ink-2'}`}>
              {people.announced.trouble ?? `It is announced as “${people.announced.name}” (DNS-SD).`}
            </p>
          )}
        </div>
      )}
      <ul className="pt-2">
        {addresses.map(({ url, here }) => (
          <li key={url} className="flex flex-wrap items-baseline gap-x-4 py-0.5">
            <span className="font-mono">{url}</span>
            <span className="text-sm text-ink-2">
              {here
                ? 'this machine'
                : opening.tls
                  ? 'other machines on that network, encrypted'
                  : NOT_ENCRYPTED}
            </span>
          </li>
        ))}
        {troubles.map(({ address, why }) => (
          <li key={address} className="py-0.5 text-brick">
            Not open at {address}: {why}
          </li>
        ))}
      </ul>
    </section>
  );
}

function Passphrases({ people, show }: PartProps) {
  const make = useNewPassphrase();
  const wordsOf = (role: Role): string =>
    people.without.includes(role) ? 'Make a passphrase' : 'New passphrase';
  return (
    <section aria-label="Passphrases">
      <h2 className="pb-1 font-semibold">Passphrases</h2>
      <ul>
        {ROLES.map((role) => (
          <li key={role} className="flex flex-wrap items-center gap-x-4 border-t border-rule py-1.5">
            <span className="w-24 font-semibold capitalize">{role}</span>
            <span className="min-w-56 flex-1 text-ink-2">{ROLE_WORDS[role]}</span>
            <Button
              aria-label={`${wordsOf(role)} for ${role}`}
              onClick={() => make.mutate(role, { onSuccess: show })}
            >
              {wordsOf(role)}
            </Button>
          </li>
        ))}
      </ul>
      <p className="text-xs text-ink-3">A new one ends the sessions that came in with the old one.</p>
    </section>
  );
}

/** A QR code that brings a phone or tablet here, and lets it in within two minutes. */
import { QrCode } from 'lucide-react';
import { QRCodeSVG } from 'qrcode.react';
import { useState } from 'react';
import type { PeopleSeen } from '@tawny-signal/core/people/people';
import type { Role } from '@tawny-signal/core/people/roles';
import { serverNow } from '../live/server-clock';
import { useNow } from '../order/use-order';
import { Button } from '../ui/button';
import { Choice } from '../ui/choice';
import { useCode } from './people';
import { RoleChoice } from './role-choice';

export function Invitation({ people }: { people: PeopleSeen }) {
  const urls = people.addresses.filter(({ here }) => !here).map(({ url }) => url);
  const [chosen, setUrl] = useState<string | null>(null);
  const [role, setRole] = useState<Role>('caller');
  const [made, setMade] = useState<{ code: string; until: number } | null>(null);
  const make = useCode();
  const now = useNow(made !== null);
  const url = urls.find((one) => one === chosen) ?? urls[0]!;
  const left = made === null ? 0 : Math.ceil((made.until - now) / 1000);
  const isShown = made !== null && left > 0 && made.until > serverNow();
  return (
    <section aria-label="Bring a phone or tablet here" className="flex flex-wrap gap-6">
      <div className="max-w-lg min-w-[min(16rem,100%)] flex-1">
        <h2 className="pb-1 font-semibold">Bring a phone or tablet here</h2>
        <RoleChoice
          role={role}
          choose={(next) => {
            setRole(next);
            setMade(null);
          }}
        />
        {urls.length > 1 && (
          <Choice
            label="Address"
            value={url}
            options={urls.map((value) => ({ value, words: value }))}
            choose={setUrl}
          />
        )}
        <Button
          look="main"
          className="mt-2"
          onClick={() => make.mutate(role, { onSuccess: (code) => setMade(code) })}
        >
          <QrCode size={15} aria-hidden /> Show a code
        </Button>
      </div>
      {isShown && (
        <figure>
          <QRCodeSVG
            value={`${url}#code=${made.code}`}
            size={196}
            marginSize={3}
            title={`A code that signs in as ${role}`}
          />
          <figcaption className="pt-1 text-sm text-ink-2">
            Lets one browser in as {role}, for {left} s more.
          </figcaption>
        </figure>
      )}
    </section>
  );
}

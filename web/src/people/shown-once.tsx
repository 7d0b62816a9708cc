/** Passphrases that were just made. They are not kept anywhere in words, so they are shown now or never. */
import type { Shown } from '@tawny-signal/core/people/people';
import { Button } from '../ui/button';

export function ShownOnce({ shown, done }: { shown: Shown; done: () => void }) {
  const made = Object.entries(shown);
  if (made.length === 0) return null;
  return (
    <section
      aria-label="New passphrases"
      role="status"
      className="border-l-3 border-l-tawny bg-bark px-4 py-3"
    >
      <p className="pb-2 font-semibold">Write these down now: they are shown once.</p>
      <dl className="grid grid-cols-[auto_1fr] gap-x-6 gap-y-1">
        {made.map(([role, passphrase]) => (
          <div key={role} className="contents">
            <dt className="text-ink-2 capitalize">{role}</dt>
            <dd className="font-mono text-xl select-all">{passphrase}</dd>
          </div>
        ))}
      </dl>
      <Button className="mt-3" onClick={done}>
        I have them
      </Button>
    </section>
  );
}

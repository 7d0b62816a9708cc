/** The banks, large enough to press in the dark. */
import { useChangeBank, useShow } from '../show/show';
import { Button } from '../ui/button';

export function Banks({ watches }: { watches: boolean }) {
  const { banks } = useShow();
  const change = useChangeBank();
  if (banks.length === 0) return null;
  return (
    <section aria-label="Banks">
      <h2 className="pb-1 text-sm text-ink-2">Banks</h2>
      <div className="flex flex-wrap gap-1.5">
        {banks.map((bank) => (
          <Button
            key={bank.id}
            aria-pressed={bank.on}
            disabled={watches}
            className={`h-11 ${bank.on ? 'bg-bark-2!' : 'text-ink-2!'}`}
            onClick={() => change.mutate({ id: bank.id, change: { on: !bank.on } })}
          >
            <span
              aria-hidden
              className={`size-2.5 rounded-full border ${bank.on ? 'border-moss bg-moss' : 'border-ink-3'}`}
            />
            {bank.name} {!bank.on && <span className="text-xs">off</span>}
          </Button>
        ))}
      </div>
    </section>
  );
}

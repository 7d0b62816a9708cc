/** What stands by, in large type, with what is wrong with it. */
import { callWords, lineOfSend } from '@tawny-signal/core/cues/words';
import type { Show } from '@tawny-signal/core/show';
import type { Moment } from '@tawny-signal/core/show/moment';
import { useLineView } from '../lines/line-view';
import { ORDER_WORDS, type OrderNow } from '../order/use-order';

export function StandingBy({ show, order: { next, known } }: { show: Show; order: OrderNow }) {
  return (
    <section aria-label="Standing by" className="border-l-3 border-l-tawny bg-bark px-5 py-4">
      <p className="text-sm text-ink-2">Standing by</p>
      {known === 'old' && <p className="text-straw">! {ORDER_WORDS.old}</p>}
      {known === 'unknown' ? (
        <p className="pt-1 text-2xl text-ink-2">{ORDER_WORDS.unknown}</p>
      ) : next ? (
        <>
          <p className="pt-1 text-4xl leading-11 font-bold">
            <span className="font-mono text-tawny-2">{next.cue}</span> {next.name}
          </p>
          <p className="pt-1 text-ink-2">{callWords(next, show.layouts)}</p>
          {next.notes && <p className="pt-2 text-xl leading-7 whitespace-pre-line">{next.notes}</p>}
          {known === 'now' && <LinesInTrouble show={show} moment={next} />}
        </>
      ) : (
        <p className="pt-1 text-2xl text-ink-2">Nothing: the last one was called.</p>
      )}
    </section>
  );
}

function LinesInTrouble({ show, moment }: { show: Show; moment: Moment }) {
  const used = new Set(moment.sends.map(lineOfSend));
  return (
    <ul aria-label="Lines in trouble" className="pt-2">
      {show.lines
        .filter(({ id }) => used.has(id))
        .map((line) => (
          <LineTrouble key={line.id} line={line} />
        ))}
    </ul>
  );
}

function LineTrouble({ line }: { line: Show['lines'][number] }) {
  const view = useLineView(line);
  if (!view.trouble) return null;
  return (
    <li className="text-lg text-brick">
      ! {line.name} is {view.shortTrouble}
    </li>
  );
}

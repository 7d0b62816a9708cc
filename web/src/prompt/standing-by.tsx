/** What stands by, in large type, with what is wrong with it. */
import { callWords, lineOfSend } from '@tawny-signal/core/cues/words';
import type { Show } from '@tawny-signal/core/show';
import type { Moment } from '@tawny-signal/core/show/moment';
import { useLineView } from '../lines/line-view';
import { Timed } from '../order/timed';
import { ORDER_WORDS, type OrderNow } from '../order/use-order';

export function StandingBy({ show, order: { next, known } }: { show: Show; order: OrderNow }) {
  return (
    <section aria-label="Standing by" className="border-l-3 border-l-tawny bg-bark px-4 py-3 lg:px-5">
      <p className="flex flex-wrap justify-between gap-x-4 text-sm text-ink-2">
        <span>Standing by</span>
        {next && known !== 'unknown' && (
          <span>
            {next.timecode !== null && <Timed id={next.id} />}
            {callWords(next, show.layouts)}
          </span>
        )}
      </p>
      {known === 'old' && <p className="text-straw">! {ORDER_WORDS.old}</p>}
      {known === 'unknown' ? (
        <p className="pt-1 text-2xl text-ink-2">{ORDER_WORDS.unknown}</p>
      ) : next ? (
        <>
          <p className="pt-0.5 text-3xl leading-10 font-bold lg:text-4xl lg:leading-11">
            <span className="font-mono text-tawny-2">{next.cue}</span> {next.name}
          </p>
          {next.notes && (
            <p className="pt-1 text-lg leading-6 whitespace-pre-line lg:text-xl lg:leading-7">{next.notes}</p>
          )}
          {known === 'now' && <LinesInTrouble show={show} moment={next} />}
        </>
      ) : (
        <p className="pt-1 text-2xl text-ink-2">Nothing: the last moment has been called.</p>
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

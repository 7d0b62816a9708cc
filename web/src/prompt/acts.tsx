/** The buttons of the desk. Go is the largest; on a phone they stand at the bottom, under the thumb. */
import type { DeskAct } from '@tawny-signal/core/show/desk-keys';
import type { OrderNow } from '../order/use-order';
import { Button } from '../ui/button';

interface ActsProps {
  order: OrderNow;
  act: (what: DeskAct) => void;
  /** Skips what stands by; null if nothing comes after it. */
  skip: (() => void) | null;
  fadeOutMs: number;
  /** True on a phone. */
  small: boolean;
}

export function Acts({ order, act, skip, fadeOutMs, small }: ActsProps) {
  const go = (
    <Button
      look="main"
      className={`min-w-0 text-5xl font-bold ${small ? 'h-28 w-full' : 'h-24 flex-2 max-lg:h-36'}`}
      disabled={!order.next || order.known !== 'now'}
      onClick={() => act('go')}
    >
      Go
    </Button>
  );
  const hold = (
    <Button className={small ? 'h-12 flex-1 px-1!' : 'flex-1 text-xl'} onClick={() => act('hold')}>
      {order.heldAt === null ? 'Hold' : 'Resume'}
    </Button>
  );
  const look = small ? 'h-12 flex-1 px-1!' : 'h-11 px-1! text-base leading-5 max-lg:h-16 max-lg:text-lg';
  const back = (
    <Button className={look} onClick={() => act('back')}>
      Back one
    </Button>
  );
  const skipOne = (
    <Button
      className={look}
      title="The one after it stands by; nothing is sent."
      disabled={!skip}
      onClick={() => skip?.()}
    >
      Skip
    </Button>
  );
  const stopAll = (
    <Button className={look} onClick={() => act('stopAll')}>
      Stop all
    </Button>
  );
  const fadeOut = (
    <Button
      className={look}
      title="The lights that moments set fade out, then everything that runs stops."
      onClick={() => act('fadeOut')}
    >
      Fade out in {fadeOutMs / 1000} s
    </Button>
  );
  if (small)
    return (
      <div className="shrink-0 space-y-2 border-t border-rule bg-raised p-3">
        <div className="flex gap-2">
          {hold}
          {back}
          {skipOne}
          {stopAll}
        </div>
        {go}
      </div>
    );
  return (
    <div className="flex gap-3 pt-3.5">
      {go}
      {hold}
      <div className="flex flex-1 flex-col justify-between gap-2">
        {back}
        {skipOne}
      </div>
      <div className="flex flex-1 flex-col justify-between gap-2">
        {stopAll}
        {fadeOut}
      </div>
    </div>
  );
}

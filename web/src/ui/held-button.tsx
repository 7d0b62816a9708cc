/** A button that acts once it has been held for a second, by pointer or keyboard, so that a hand that falls on it does nothing. */
import { useEffect, useRef, useState } from 'react';
import type { ButtonProps } from './button';
import { HoldButton } from './hold-button';

const HOLD_MS = 1000;

export function HeldButton({ act, children, ...rest }: ButtonProps & { act: () => void }) {
  const [held, setHeld] = useState(false);
  const timer = useRef<ReturnType<typeof setTimeout> | null>(null);
  const cancel = (): void => {
    if (timer.current) clearTimeout(timer.current);
    timer.current = null;
  };
  useEffect(() => cancel, []);
  function press(down: boolean): void {
    cancel();
    setHeld(down);
    if (!down) return;
    timer.current = setTimeout(() => {
      setHeld(false);
      act();
    }, HOLD_MS);
  }
  return (
    <HoldButton {...rest} press={press} className={`relative overflow-hidden ${rest.className ?? ''}`}>
      <span
        aria-hidden
        className="absolute inset-0 origin-left bg-tawny/30"
        style={{
          transform: `scaleX(${held ? 1 : 0})`,
          transition: held ? `transform ${HOLD_MS}ms linear` : 'none',
        }}
      />
      <span className="relative inline-flex items-center gap-1.5">{children}</span>
    </HoldButton>
  );
}

/** A button that is held, by pointer or keyboard. Its release is reported whatever happens. */
import { useEffect, useRef } from 'react';
import { Button, type ButtonProps } from './button';

interface HoldButtonProps extends ButtonProps {
  press: (down: boolean) => void;
}

export function HoldButton({ press, ...rest }: HoldButtonProps) {
  const pressed = useRef(false);
  const latest = useRef(press);
  useEffect(() => {
    latest.current = press;
  }, [press]);
  const set = (down: boolean): void => {
    if (pressed.current === down) return;
    pressed.current = down;
    latest.current(down);
  };
  useEffect(
    () => () => {
      if (pressed.current) latest.current(false);
    },
    [],
  );
  return (
    <Button
      {...rest}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        set(true);
      }}
      onPointerUp={() => set(false)}
      onPointerCancel={() => set(false)}
      onBlur={() => set(false)}
      onKeyDown={(event) => (event.key === ' ' || event.key === 'Enter') && set(true)}
      onKeyUp={(event) => (event.key === ' ' || event.key === 'Enter') && set(false)}
    />
  );
}

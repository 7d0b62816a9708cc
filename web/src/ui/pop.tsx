/** A small panel that opens beside its button. */
import { Popover } from 'radix-ui';
import type { ComponentProps, ReactNode } from 'react';

export interface PopProps extends Pick<ComponentProps<typeof Popover.Content>, 'align' | 'side'> {
  /** The button that opens it. */
  trigger: ReactNode;
  /** The width, as a class. */
  width: string;
  open?: boolean;
  setOpen?: (open: boolean) => void;
  children: ReactNode;
}

export function Pop({ trigger, width, open, setOpen, children, ...place }: PopProps) {
  return (
    <Popover.Root {...(open === undefined ? {} : { open })} {...(setOpen ? { onOpenChange: setOpen } : {})}>
      <Popover.Trigger asChild>{trigger}</Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          sideOffset={5}
          className={`z-50 max-w-[calc(100vw-1rem)] rounded border border-rule bg-raised p-3 text-sm text-ink shadow-lg ${width}`}
          {...place}
        >
          {children}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

import type { ComponentProps } from 'react';
import { useWhyNot, type ActNeed } from './read-only';

type Look = 'plain' | 'main' | 'danger' | 'bare';

const LOOKS: Record<Look, string> = {
  plain: 'border border-rule bg-raised text-ink hover:bg-bark-2',
  main: 'bg-tawny font-semibold text-on-tawny hover:bg-tawny-2',
  danger: 'border border-brick text-brick hover:bg-brick hover:text-paper',
  bare: 'text-ink-2 hover:bg-bark-2 hover:text-ink',
};

export interface BareButtonProps extends ComponentProps<'button'> {
  /** What its act needs. Somebody who has not that can’t press it, and its title says why. */
  needs?: ActNeed;
}

/** A button without a look. */
export function BareButton({ needs, ...rest }: BareButtonProps) {
  return needs === undefined ? <button type="button" {...rest} /> : <NeedyButton needs={needs} {...rest} />;
}

function NeedyButton({ needs, disabled, title, ...rest }: BareButtonProps & { needs: ActNeed }) {
  const whyNot = useWhyNot(needs);
  return (
    <button type="button" {...rest} disabled={disabled || whyNot !== undefined} title={whyNot ?? title} />
  );
}

export interface ButtonProps extends BareButtonProps {
  look?: Look;
}

/** Buttons. One with only an icon has a label for screen readers. */
export function Button({ look = 'plain', className = '', ...rest }: ButtonProps) {
  return (
    <BareButton
      className={`inline-flex min-h-8 min-w-8 items-center justify-center gap-1.5 rounded px-3 disabled:cursor-not-allowed disabled:opacity-45 ${LOOKS[look]} ${className}`}
      {...rest}
    />
  );
}

/** A small square button with an icon. `label` is for screen readers. */
export function IconButton({ label, className = '', ...rest }: ButtonProps & { label: string }) {
  return <Button look="bare" aria-label={label} title={label} className={`px-1.5! ${className}`} {...rest} />;
}

/** Lets the pages be seen by those who may see them, and asks everybody else to sign in. */
import type { ReactNode } from 'react';
import { useMe } from './me';
import { SignIn } from './sign-in';
import { TRUST, TrustPage } from './trust-page';

export function Gate({ children }: { children: ReactNode }) {
  const me = useMe();
  if (location.pathname === TRUST) return <TrustPage />;
  if (me === null) return <p className="p-6 text-ink-2">Opening …</p>;
  return me.role === null ? <SignIn /> : children;
}

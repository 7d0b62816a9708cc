/** Asks before a locked desk is left. */
import { useEffect } from 'react';
import { useBlocker } from 'react-router';

export function useLeaveGuard(locked: boolean): void {
  const blocker = useBlocker(locked);
  useEffect(() => {
    if (blocker.state !== 'blocked') return;
    if (window.confirm('This desk is locked. Leave it all the same?')) blocker.proceed();
    else blocker.reset();
  }, [blocker]);
  useEffect(() => {
    if (!locked) return;
    const ask = (event: BeforeUnloadEvent): void => event.preventDefault();
    window.addEventListener('beforeunload', ask);
    return () => window.removeEventListener('beforeunload', ask);
  }, [locked]);
}

/** Asks before a locked desk is left. */
import { useEffect, type ReactNode } from 'react';
import { useBlocker } from 'react-router';
import { AskDialog } from '../ui/ask-dialog';

/** @returns the question, to be put into the page */
export function useLeaveGuard(locked: boolean): ReactNode {
  const blocker = useBlocker(locked);
  useEffect(() => {
    if (!locked) return;
    // A tab that is closed can only be held by the browser's own question.
    const ask = (event: BeforeUnloadEvent): void => event.preventDefault();
    window.addEventListener('beforeunload', ask);
    return () => window.removeEventListener('beforeunload', ask);
  }, [locked]);
  return (
    <AskDialog
      open={blocker.state === 'blocked'}
      title="Leave the prompt desk?"
      words="The show is locked, and Go and its keys work on this page only."
      yes="Leave"
      no="Stay here"
      answer={(yes) => {
        if (blocker.state !== 'blocked') return;
        if (yes) blocker.proceed();
        else blocker.reset();
      }}
    />
  );
}

/**
 * Shows the message that was said last, in a row of its own above the last event, so that it never covers a form. It goes after a while, but not while
 * the pointer or the focus is on it.
 */
import { CircleAlert, TriangleAlert, X } from 'lucide-react';
import { useEffect, useState, useSyncExternalStore } from 'react';
import { Button, IconButton } from '../ui/button';
import { currentNotice, dismiss, followNotices, type Notice } from '../ui/notice';

const STAYS_MS = 8000;
/** What went wrong stays longer, since it says what to do. */
const FAULT_STAYS_MS = 15_000;

const LOOKS: Record<Notice['look'], string> = {
  plain: 'border-rule text-ink',
  warning: 'border-straw text-straw',
  fault: 'border-brick text-brick',
};

export function Notices() {
  const notice = useSyncExternalStore(followNotices, currentNotice);
  return (
    <div
      role="status"
      aria-live={notice?.look === 'fault' ? 'assertive' : 'polite'}
      aria-label="Message"
      className="shrink-0 print:hidden"
    >
      {notice && <One key={notice.id} notice={notice} />}
    </div>
  );
}

function One({ notice: { id, words, look, act } }: { notice: Notice }) {
  const [stays, setStays] = useState(false);
  useEffect(() => {
    if (stays) return;
    const timer = setTimeout(() => dismiss(id), look === 'plain' ? STAYS_MS : FAULT_STAYS_MS);
    return () => clearTimeout(timer);
  }, [id, look, stays]);
  return (
    <div
      data-notice
      onPointerEnter={() => setStays(true)}
      onPointerLeave={() => setStays(false)}
      onFocus={() => setStays(true)}
      onBlur={() => setStays(false)}
      className={`flex min-h-10 items-center gap-x-3 border-t bg-bark px-3.5 py-0.5 text-sm ${LOOKS[look]}`}
    >
      {look === 'warning' && <TriangleAlert size={15} aria-hidden className="shrink-0" />}
      {look === 'fault' && <CircleAlert size={15} aria-hidden className="shrink-0" />}
      <p className="min-w-0 flex-1 py-1.5">{words}</p>
      {act && (
        <Button
          className="border-tawny!"
          onClick={() => {
            dismiss(id);
            act.run();
          }}
        >
          {act.words}
        </Button>
      )}
      <IconButton label="Dismiss the message" onClick={() => dismiss(id)}>
        <X size={15} aria-hidden />
      </IconButton>
    </div>
  );
}

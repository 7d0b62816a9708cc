/** A file that the server looks into: how far it is, and a button that stops it. */
import { useEffect, useRef, useState } from 'react';
import { useMutation, useQuery, type UseMutationResult } from '@tanstack/react-query';
import { X } from 'lucide-react';
import { call } from '../show/api';
import { Button } from '../ui/button';
import { notify } from '../ui/notice';
import { ProgressBar } from '../ui/progress-bar';

/** What takes less than this is not shown. */
const SHOWN_AFTER_MS = 400;
const ASKED_EACH_MS = 300;

export type ReadingFile<T> = UseMutationResult<T, Error, File> & { stop: () => void };

/** Sends files to a call that says what is in them and changes nothing. Reasons why one can't be read are shown. */
export function useReading<T>(path: string): ReadingFile<T> {
  const ending = useRef<AbortController | null>(null);
  const reading = useMutation({
    mutationFn: (file: File) => {
      ending.current = new AbortController();
      return call<T>('POST', path, file, { signal: ending.current.signal });
    },
    onError: (error) => notify(error.message, { look: ending.current?.signal.aborted ? 'plain' : 'fault' }),
    networkMode: 'always',
  });
  useEffect(() => () => ending.current?.abort(), []);
  return { ...reading, stop: () => ending.current?.abort() };
}

export function Reading({ of: { isPending, variables, stop } }: { of: ReadingFile<unknown> }) {
  return isPending ? <Running name={variables.name} stop={stop} /> : null;
}

/** @param stop none where the file is taken when it was read, so that nobody can say whether it was */
export function Running({ name, stop }: { name: string; stop?: () => void }) {
  const [shown, setShown] = useState(false);
  useEffect(() => {
    const timer = setTimeout(() => setShown(true), SHOWN_AFTER_MS);
    return () => clearTimeout(timer);
  }, []);
  const { data } = useQuery({
    queryKey: ['files/reading'],
    queryFn: () => call<{ part: number | null }>('GET', 'files/reading'),
    refetchInterval: ASKED_EACH_MS,
    gcTime: 0,
    enabled: shown,
  });
  if (!shown) return null;
  // Nothing is known of how much was read of a file that waits, or of a show, which is read at once.
  const part = data?.part || null;
  return (
    <div role="status" className="order-last mt-2 w-full text-sm">
      <p className="flex gap-2">
        <span className="min-w-0 truncate">Reading {name}</span>
        {part !== null && <span className="tabular-nums">{Math.round(part * 100)} %</span>}
      </p>
      <div className="flex items-center gap-3">
        <ProgressBar part={part} label={`Reading ${name}`} />
        {stop && (
          <Button className="whitespace-nowrap" onClick={stop}>
            <X size={14} aria-hidden /> Stop reading
          </Button>
        )}
      </div>
    </div>
  );
}

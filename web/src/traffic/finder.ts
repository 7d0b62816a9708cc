/**
 * Finds messages in live traffic. New messages are tested once when they arrive; older ones are searched backwards, a few at a time, so that
 * the screen never waits.
 */
import type { Passing, TrafficView } from '../live/traffic-log';

export interface Finder {
  /** Tests what arrived since the last call, and forgets what is no longer stored. */
  follow(view: TrafficView): void;
  /** Searches further back, through at most a number of records. @returns whether there is more to search */
  back(records: number): boolean;
  /** The number of messages that were found so far. */
  readonly count: number;
  /** Returns the number of a found record; 0 is the newest. */
  at(place: number): number;
}

/** @param wants null to find every record */
export function createFinder(wants: ((record: Passing) => boolean) | null): Finder {
  let view: TrafficView = { first: 0, end: 0, at: () => null as never };
  let begun = false;
  /** Records that were found as they arrived, ascending. The first `gone` are no longer stored. */
  let newer: number[] = [];
  let gone = 0;
  /** Records that were found by searching back, descending. */
  const older: number[] = [];
  let lookedTo = 0;
  let followedTo = 0;

  function forget(): void {
    while (older.length > 0 && older.at(-1)! < view.first) older.pop();
    while (gone < newer.length && newer[gone]! < view.first) gone++;
    if (gone > 4096) {
      newer = newer.slice(gone);
      gone = 0;
    }
  }

  return {
    follow(next) {
      if (!begun) {
        begun = true;
        lookedTo = followedTo = next.end;
      }
      view = next;
      if (!wants) return;
      for (let n = Math.max(followedTo, view.first); n < view.end; n++) if (wants(view.at(n))) newer.push(n);
      followedTo = view.end;
      forget();
    },
    back(records) {
      if (!wants) return false;
      const to = Math.max(view.first, lookedTo - records);
      for (let n = lookedTo - 1; n >= to; n--) if (wants(view.at(n))) older.push(n);
      lookedTo = to;
      return lookedTo > view.first;
    },
    get count() {
      return wants ? newer.length - gone + older.length : view.end - view.first;
    },
    at(place) {
      if (!wants) return view.end - 1 - place;
      const fresh = newer.length - gone;
      return place < fresh ? newer[newer.length - 1 - place]! : older[place - fresh]!;
    },
  };
}

/** Returns all matching records of a view, the oldest first. */
export function findAll(view: TrafficView, wants: ((record: Passing) => boolean) | null): Passing[] {
  const found: Passing[] = [];
  for (let n = view.first; n < view.end; n++) {
    const record = view.at(n);
    if (!wants || wants(record)) found.push(record);
  }
  return found;
}

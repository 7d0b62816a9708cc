/** The compiled moments of the running order, and what lies before and after each. */
import type { Moment } from '../show/moment.js';
import { EMPTY_STOCK, type Stock } from './expand.js';
import { planMoment, type Plan } from './plan.js';

export interface Plans {
  /** @param stock the groups, looks and files that moments name. A moment that is the same object as before is not compiled again */
  load(moments: readonly Moment[], stock: Stock): void;
  all(): readonly Plan[];
  stock(): Stock;
  /** The place of a moment; -1 if it is not there. */
  placeOf(id: string | null): number;
  at(id: string | null): Plan | undefined;
  /** Returns the first moment from a place on that is not parked. */
  nextFrom(place: number): Plan | null;
  /** Returns the last moment before a place that is not parked. */
  lastBefore(place: number): Plan | undefined;
  /** Returns what the moments before a place do, without those that are parked. */
  playedBefore(place: number): Plan['expanded'][];
}

export const played = (of: readonly Plan[]): Plan['expanded'][] =>
  of.filter(({ moment }) => !moment.parked).map(({ expanded }) => expanded);

export function createPlans(): Plans {
  let plans: Plan[] = [];
  let stock = EMPTY_STOCK;
  const placeOf = (id: string | null): number => plans.findIndex(({ moment }) => moment.id === id);
  return {
    load(moments, named) {
      const same = (Object.keys(named) as (keyof Stock)[]).every((of) => named[of] === stock[of]);
      stock = named;
      const before = new Map(same ? plans.map((plan) => [plan.moment, plan]) : []);
      plans = moments.map((moment) => before.get(moment) ?? planMoment(moment, stock));
    },
    all: () => plans,
    stock: () => stock,
    placeOf,
    at: (id) => plans[placeOf(id)],
    nextFrom: (place) => plans.slice(place).find(({ moment }) => !moment.parked) ?? null,
    lastBefore: (place) => plans.slice(0, Math.max(0, place)).findLast(({ moment }) => !moment.parked),
    playedBefore: (place) => played(plans.slice(0, place)),
  };
}

/** The compiled moments of the running order, and what lies before and after each. */
import type { Moment } from '../show/moment.js';
import { EMPTY_STOCK, type Stock } from './expand.js';
import { planMoment, type Plan } from './plan.js';

export interface Plans {
  /** Compiles moments that are going to be loaded, one with each step. */
  prepare(moments: readonly Moment[], stock: Stock): Generator<void>;
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

const sameStock = (one: Stock, other: Stock): boolean =>
  (Object.keys(one) as (keyof Stock)[]).every((of) => one[of] === other[of]);

export function createPlans(): Plans {
  let plans: Plan[] = [];
  let stock = EMPTY_STOCK;
  const placeOf = (id: string | null): number => plans.findIndex(({ moment }) => moment.id === id);
  /** What was compiled before it is loaded, with the stock that it was compiled for. */
  let ahead: { stock: Stock; plans: Map<Moment, Plan> } | null = null;
  const compiledFor = (named: Stock): ReadonlyMap<Moment, Plan> =>
    new Map(sameStock(named, stock) ? plans.map((plan) => [plan.moment, plan]) : []);
  return {
    *prepare(moments, named) {
      const known = compiledFor(named);
      const made = { stock: named, plans: new Map<Moment, Plan>() };
      ahead = made;
      for (const moment of moments) {
        if (known.has(moment)) continue;
        made.plans.set(moment, planMoment(moment, named));
        yield;
      }
    },
    load(moments, named) {
      const known = compiledFor(named);
      const ready = ahead && sameStock(ahead.stock, named) ? ahead.plans : null;
      ahead = null;
      stock = named;
      plans = moments.map((moment) => known.get(moment) ?? ready?.get(moment) ?? planMoment(moment, stock));
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

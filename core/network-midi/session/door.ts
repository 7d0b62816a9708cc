/** How others come into a session: those who invite us, and those whom we invite. */
import { encodeSessionCommand, type SessionCommand } from '../session-command.js';
import {
  acceptedBy,
  callAnew,
  createCall,
  isGivenUp,
  isOnTheWay,
  refusedBy,
  tried,
  type Call,
} from './calls.js';
import { createGuests, type Invitation, type RefusedSeen } from './guests.js';
import { tell, type Port, type SessionHost, type SessionSettings } from './host.js';
import { isSameAddress, type Address, type Participant } from './participant.js';
import type { Roster } from './roster.js';
import { callAgainMs, GIVE_WAY_MS } from './waits.js';

export interface Door {
  /** Calls a machine from now on. */
  call(to: Address): void;
  /** Calls it no more. One that is connected stays. */
  uncall(to: Address): void;
  calls(): readonly Call[];
  refused(): readonly RefusedSeen[];
  hear(port: Port, command: Invitation, from: Address, now: number): void;
  /**
   * Calls somebody who may join, and speaks to us as if it had: it was there before we were started again.
   * @param octets of what it has said, which the call does not exceed
   */
  callBack(to: Address, octets: number, now: number): void;
  /** Somebody has left, and is called again where we do. */
  left(one: Participant, now: number): void;
  wakeAt(): number;
  wake(now: number): void;
  /** Calls nobody any more. */
  close(): void;
}

const MOST_PARTICIPANTS = 32;
const MOST_CALLS = 64;

const dataOf = ({ host, port }: Address): Address => ({ host, port: port + 1 });

/** @param lastPacket the last packet that was played. @param entered called with whom we have called, once it has accepted */
export function createDoor(
  { name, ssrc, mayJoin }: SessionSettings,
  host: SessionHost,
  roster: Roster,
  lastPacket: () => number,
  entered: (one: Participant, now: number) => void,
): Door {
  const guests = createGuests();
  const invitationLength = encodeSessionCommand({ kind: 'invitation', token: 0, ssrc, name }).length;
  let calls: Call[] = [];

  const isConnected = (number: number): boolean =>
    roster.all().some((one) => one.ssrc === number && one.isProven);

  function answer(kind: 'accepted' | 'refused', port: Port, { token }: Invitation, to: Address): void {
    const command: SessionCommand = { kind, token, ssrc, name: kind === 'accepted' ? name : '' };
    tell(host, port, to, command);
  }

  function refuse(invitation: Invitation, from: Address, now: number): void {
    answer('refused', 'control', invitation, from);
    guests.refuse(invitation, from, now);
    host.changed();
  }

  function welcome(invitation: Invitation, from: Address, now: number): void {
    const call = calls.find(({ to }) => isSameAddress(to, from));
    // It is here already, by our call. One that has called us before, and calls again, has lost us.
    if (roster.all().some((one) => one.ssrc === invitation.ssrc && one.isProven && one.weCalled))
      return answer('refused', 'control', invitation, from);
    const isFull = roster.all().length >= MOST_PARTICIPANTS;
    if (isFull || invitation.ssrc === ssrc || !(call || mayJoin(from.host)))
      return refuse(invitation, from, now);
    if (call && isOnTheWay(call)) {
      // Where two call each other, the call of the one with the lower number counts.
      if (ssrc < invitation.ssrc) return;
      callAnew(call, host.random(), now + GIVE_WAY_MS);
    }
    guests.open({ ...invitation, control: from, at: now });
    answer('accepted', 'control', invitation, from);
  }

  function comeIn(invitation: Invitation, from: Address, now: number): void {
    const guest = guests.close(invitation, from, now);
    if (!guest) return;
    const one = {
      ssrc: guest.ssrc,
      name: guest.name,
      token: guest.token,
      control: guest.control,
      data: from,
    };
    roster.join({ ...one, weCalled: false }, lastPacket(), now);
    const call = calls.find(({ to }) => isSameAddress(to, guest.control));
    if (call) Object.assign(call, { state: 'connected', ssrc: guest.ssrc });
    answer('accepted', 'data', invitation, from);
  }

  function invited(port: Port, invitation: Invitation, from: Address, now: number): void {
    if (!guests.mayAnswer(now)) return;
    const known = roster.at(port, from, invitation.ssrc);
    // Our answer was lost.
    if (known?.token === invitation.token) answer('accepted', port, invitation, from);
    else if (port === 'control') welcome(invitation, from, now);
    else comeIn(invitation, from, now);
  }

  function invite(call: Call, now: number): void {
    const port = call.state === 'data' ? 'data' : 'control';
    const to = port === 'data' ? dataOf(call.to) : call.to;
    tried(call, now);
    tell(host, port, to, { kind: 'invitation', token: call.token, ssrc, name });
  }

  function accepted(port: Port, { token, ...they }: Invitation, from: Address, now: number): void {
    const call = calls.find((one) => one.token === token && one.to.host === from.host);
    if (call?.state !== port) return;
    if (port === 'control') {
      acceptedBy(call, they.ssrc);
      return invite(call, now);
    }
    const one = { ssrc: they.ssrc, name: they.name, token, control: call.to, data: dataOf(call.to) };
    call.state = 'connected';
    entered(roster.join({ ...one, weCalled: true }, lastPacket(), now), now);
  }

  function refused(_: Port, { token }: Invitation, from: Address, now: number): void {
    const call = calls.find((one) => one.token === token && one.to.host === from.host);
    if (!call || call.state === 'connected') return;
    refusedBy(call, now);
    host.changed();
  }

  function goodbye(_: Port, { token, ssrc: number }: Invitation, from: Address, now: number): void {
    const one = roster.at('control', from, number);
    if (one?.token === token) roster.leave(one, now);
  }

  const heard = { invitation: invited, accepted, refused, goodbye } as const;

  return {
    call(to) {
      if (!calls.some((one) => isSameAddress(one.to, to))) calls = [...calls, createCall(to, host.random())];
    },
    uncall(to) {
      calls = calls.filter((call) => !isSameAddress(call.to, to));
    },
    calls: () => calls,
    refused: guests.refused,
    hear(port, command, from, now) {
      heard[command.kind](port, command, from, now);
    },
    callBack(to, octets, now) {
      const isKnown = calls.some((call) => isSameAddress(call.to, to));
      if (isKnown || calls.length >= MOST_CALLS || octets < invitationLength || !mayJoin(to.host)) return;
      if (guests.mayAnswer(now)) calls = [...calls, { ...createCall(to, host.random(), true), nextAt: now }];
    },
    left(one, now) {
      calls = calls.filter((call) => !call.isOnce || call.ssrc !== one.ssrc);
      const isStillHere = isConnected(one.ssrc);
      for (const call of calls)
        if (!isStillHere && (call.ssrc === one.ssrc || isSameAddress(call.to, one.control)))
          callAnew(call, host.random(), now + callAgainMs(0));
    },
    wakeAt: () =>
      calls.reduce((at, { state, nextAt }) => (state === 'connected' ? at : Math.min(at, nextAt)), Infinity),
    wake(now) {
      calls = calls.filter((call) => !isGivenUp(call));
      for (const call of calls) if (call.state !== 'connected' && call.nextAt <= now) invite(call, now);
    },
    close() {
      calls = [];
    },
  };
}

/**
 * (o) A thousand connections, opened 25 at a time: how long 25 take when few are there and when many are, and what is sent for it. Each says where it is,
 * as a page does, and has come when it knows who else is there.
 */
import WebSocket, { type RawData } from 'ws';
import { openTestStage } from '../scripts/test-stage.js';
import type { Results } from './results.js';

const ROUNDS = 40;
const AT_ONCE = 25;

interface Round {
  connected: number;
  ms: number;
  bytes: number;
  /** Of them, those for who is here. */
  hereBytes: number;
}

const sum = (list: readonly number[]): number => list.reduce((all, one) => all + one, 0);

export async function benchCrowd(results: Results): Promise<void> {
  const stage = await openTestStage();
  const sockets: WebSocket[] = [];
  let bytes = 0;
  let hereBytes = 0;

  function come(): Promise<void> {
    const page = sockets.length.toString(16).padStart(8, '0');
    const socket = new WebSocket(`ws://127.0.0.1:${stage.port}/live`);
    sockets.push(socket);
    socket.on('open', () =>
      socket.send(JSON.stringify({ t: 'here', page, name: '', path: '/', field: null, hidden: false })),
    );
    return new Promise((done) =>
      socket.on('message', (data: RawData, isBinary) => {
        const said = data as Buffer;
        bytes += said.length;
        if (isBinary || said.subarray(0, 11).toString() !== '{"t":"here"') return;
        hereBytes += said.length;
        if (said.includes('"anew":true')) done();
      }),
    );
  }

  const rounds: Round[] = [];
  try {
    for (let round = 0; round < ROUNDS; round++) {
      bytes = hereBytes = 0;
      const from = performance.now();
      await Promise.all(Array.from({ length: AT_ONCE }, come));
      rounds.push({ connected: sockets.length, ms: performance.now() - from, bytes, hereBytes });
    }
  } finally {
    for (const socket of sockets) socket.terminate();
    await stage.stop();
  }
  console.log(`(o) ${ROUNDS * AT_ONCE} connections, ${AT_ONCE} at a time`);
  for (const { connected, ms, bytes: all, hereBytes: ofHere } of rounds)
    if (connected % 100 === 0 || connected === AT_ONCE)
      console.log(
        `    ${String(connected).padStart(4)}: ${ms.toFixed(0)} ms; ${(all / 1e6).toFixed(2)} MB, ${(ofHere / 1e6).toFixed(2)} MB of them for who is here`,
      );
  console.log(
    `    in all ${(sum(rounds.map((one) => one.bytes)) / 1e6).toFixed(0)} MB, ${(sum(rounds.map((one) => one.hereBytes)) / 1e6).toFixed(1)} MB of them for who is here`,
  );
  const msOf = (part: readonly Round[]): number => sum(part.map(({ ms }) => ms)) / part.length;
  results.add(
    'o the last 250 connections to the first 250',
    msOf(rounds.slice(-10)) / msOf(rounds.slice(0, 10)),
    2,
  );
}

/** Reads a WAV file beside the page. */
import { readLtc, type LtcAnswer, type LtcAsk } from './ltc-read';

const say = (answer: LtcAnswer): void => postMessage(answer);

onmessage = ({ data }: MessageEvent<LtcAsk>) => {
  readLtc(data, (part) => say({ t: 'progress', part })).then(say, (error: unknown) =>
    say({ t: 'refused', reason: `This file can’t be read: ${String(error)}` }),
  );
};

/** The package that the tide clock makes sound with, and the tests check against, has no types of its own. */
declare module 'linear-timecode' {
  export class Frame {
    constructor(framerate: number);
    hours: number;
    minutes: number;
    seconds: number;
    frames: number;
    dropframe: boolean;
    /** Ten bytes. */
    encode(): Uint8Array;
    toString(): string;
  }
  export class Decoder {
    constructor(sampleRate: number);
    on(event: 'frame', heard: (frame: Frame) => void): void;
    decode(samples: Float32Array): void;
  }
  export class Encoder {
    constructor(sampleRate: number);
    /** Samples a second; it may change between frames. */
    rate: number;
    encode(frame: Frame): Int8Array;
  }
}

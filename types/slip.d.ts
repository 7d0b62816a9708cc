/** The package that the tests of SLIP check against has no types of its own. */
declare module 'slip' {
  interface Decoder {
    decode(bytes: Uint8Array): void;
  }
  const slip: {
    Decoder: new (options: { onMessage: (message: Uint8Array) => void }) => Decoder;
    encode(packet: Uint8Array): Uint8Array;
  };
  export = slip;
}

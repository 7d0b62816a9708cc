/** What every place that core runs in has (Encoding Standard), though it is in no ECMAScript library. */
declare class TextEncoder {
  encode(text: string): Uint8Array;
  encodeInto(text: string, into: Uint8Array): { read: number; written: number };
}
declare class TextDecoder {
  constructor(label?: string);
  decode(bytes?: Uint8Array): string;
}
/** Base64 (HTML Standard, "Base64 utility methods"). */
declare function atob(base64: string): string;
declare function btoa(binary: string): string;

/**
 * Bytes that need not all lie in memory: a `Uint8Array`, or a file that is read part by part. What `subarray` gives
 * holds until the next call.
 */
export interface Bytes {
  readonly length: number;
  subarray(from: number, to: number): Uint8Array;
}

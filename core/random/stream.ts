import { uniformFloat64 } from "pure-rand/distribution/uniformFloat64";
import { uniformInt } from "pure-rand/distribution/uniformInt";
import { xoroshiro128plusFromState } from "pure-rand/generator/xoroshiro128plus";

/** A stream of random numbers. Calling it moves it on; two streams never touch each other. */
export type Stream = {
  /** A whole number from `from` to `to`, both included, each equally likely. */
  whole: (from: number, to: number) => number;
  /** A number from 0 up to but not including 1, with 53 random bits. */
  unit: () => number;
};

/**
 * The stream for a key, such as seed, participant, part, pass and purpose. The same key gives the same stream on any
 * machine; different keys give unrelated ones, so drawing more from one never shifts another.
 * Generator: xoroshiro128+ (Blackman and Vigna, 2018), its 128 bits of state taken from a hash of the key.
 */
export function streamFor(...key: (string | number)[]): Stream {
  const generator = xoroshiro128plusFromState(hash128(key.join("\u001f")));
  return { whole: (from, to) => uniformInt(generator, from, to), unit: () => uniformFloat64(generator) };
}

/** Four 32-bit words that depend on every character: four FNV-1a lanes, each closed with MurmurHash3's 32-bit finalizer (Appleby, 2008). */
function hash128(text: string): [number, number, number, number] {
  const lanes: [number, number, number, number] = [0x811c9dc5, 0x9e3779b9, 0x85ebca6b, 0xc2b2ae35];
  for (let index = 0; index < text.length; index++) {
    const unit = text.charCodeAt(index);
    lanes[0] = Math.imul(lanes[0] ^ unit, 0x01000193);
    lanes[1] = Math.imul(lanes[1] ^ (unit + lanes[0]), 0x01000193);
    lanes[2] = Math.imul(lanes[2] ^ (unit + lanes[1]), 0x01000193);
    lanes[3] = Math.imul(lanes[3] ^ (unit + lanes[2]), 0x01000193);
  }
  return [close(lanes[0] ^ lanes[3]), close(lanes[1] ^ text.length), close(lanes[2]), close(lanes[3] ^ 0x27d4eb2f)];
}

function close(word: number): number {
  let mixed = word ^ (word >>> 16);
  mixed = Math.imul(mixed, 0x85ebca6b);
  mixed = Math.imul(mixed ^ (mixed >>> 13), 0xc2b2ae35);
  return (mixed ^ (mixed >>> 16)) | 0;
}

/** Length of a WAV file in ms, from its format and data chunks (RIFF, Microsoft and IBM 1991); or what is wrong with it. */
export function wavMs(bytes: Uint8Array): number | string {
  const data = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const name = (at: number) => String.fromCharCode(...bytes.subarray(at, at + 4));
  let perSecond = 0;
  for (let at = 12; at + 8 <= bytes.length;) {
    const size = data.getUint32(at + 4, true);
    if (name(at) === "fmt " && at + 20 <= bytes.length) perSecond = data.getUint32(at + 16, true);
    if (name(at) === "data") {
      if (perSecond === 0) return "The WAV file is damaged: it does not say how it was recorded.";
      const there = Math.min(size, bytes.length - at - 8);
      return Math.round((there / perSecond) * 1000);
    }
    at += 8 + size + (size % 2);
  }
  return "The WAV file is cut off.";
}

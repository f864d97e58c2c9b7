/** A file size in a readable unit. */
export function bytes(size: number): string {
  if (size >= 1e9) return `${(size / 1e9).toFixed(size < 1e10 ? 2 : 0)} GB`;
  if (size >= 1e6) return `${(size / 1e6).toFixed(size < 1e7 ? 1 : 0)} MB`;
  return `${Math.ceil(size / 1e3)} kB`;
}

// Rows of (text, bytea) in the binary format of PostgreSQL's COPY: a signature, then for every row the number of its
// fields and each field's length and bytes, all big-endian, then -1. (PostgreSQL documentation, "COPY", File Formats.)

const SIGNATURE = Uint8Array.from([0x50, 0x47, 0x43, 0x4f, 0x50, 0x59, 0x0a, 0xff, 0x0d, 0x0a, 0x00]);
const HEADER = SIGNATURE.length + 8;

export function encodeCopy(rows: ReadonlyArray<readonly [string, Uint8Array]>): Uint8Array<ArrayBuffer> {
  const names = rows.map(([name]) => new TextEncoder().encode(name));
  const size = rows.reduce((n, [, bytes], i) => n + 10 + names[i]!.length + bytes.length, HEADER + 2);
  const out = new Uint8Array(size);
  const view = new DataView(out.buffer);
  out.set(SIGNATURE);
  let at = HEADER;
  const field = (bytes: Uint8Array) => {
    view.setInt32(at, bytes.length);
    out.set(bytes, at + 4);
    at += 4 + bytes.length;
  };
  for (const [i, [, bytes]] of rows.entries()) {
    view.setInt16(at, 2);
    at += 2;
    field(names[i]!);
    field(bytes);
  }
  view.setInt16(at, -1);
  return out;
}

export function decodeCopy(bytes: Uint8Array): Array<[string, Uint8Array]> {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const out: Array<[string, Uint8Array]> = [];
  let at = HEADER + view.getInt32(HEADER - 4);
  const field = (): Uint8Array => {
    const size = view.getInt32(at);
    at += 4 + size;
    return bytes.subarray(at - size, at);
  };
  while (view.getInt16(at) === 2) {
    at += 2;
    out.push([new TextDecoder().decode(field()), field()]);
  }
  return out;
}

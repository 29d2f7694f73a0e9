import { crc32, deflateSync } from 'node:zlib';

/** A picture of one colour, as bytes (PNG, W3C Recommendation, third edition, sections 5 and 11). */
export function picture(width: number, height: number, colour: [number, number, number]): Buffer {
  const chunk = (type: string, data: Buffer) => {
    const body = Buffer.concat([Buffer.from(type, 'latin1'), data]);
    const framed = Buffer.alloc(body.length + 8);
    framed.writeUInt32BE(data.length, 0);
    body.copy(framed, 4);
    framed.writeUInt32BE(crc32(body), body.length + 4);
    return framed;
  };
  const header = Buffer.alloc(13);
  header.writeUInt32BE(width, 0);
  header.writeUInt32BE(height, 4);
  header.set([8, 2], 8); // eight bits, red green blue
  const line = Buffer.from([0, ...Array.from({ length: width }, () => colour).flat()]);
  const lines = Buffer.concat(Array.from({ length: height }, () => line));
  const signature = Buffer.from([137, 80, 78, 71, 13, 10, 26, 10]);
  return Buffer.concat([
    signature,
    chunk('IHDR', header),
    chunk('IDAT', deflateSync(lines)),
    chunk('IEND', Buffer.alloc(0)),
  ]);
}

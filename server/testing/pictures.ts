import { createServer } from 'node:http';
import sharp from 'sharp';

/** A picture of one colour, as PNG. */
export const drawnPicture = (width: number, height: number): Promise<Buffer> =>
  sharp({ create: { width, height, channels: 3, background: '#0b6b72' } })
    .png()
    .toBuffer();

const TYPES: Record<string, string> = { png: 'image/png', mp4: 'video/mp4', webm: 'video/webm', txt: 'text/plain' };

/**
 * A server on loopback that has these pictures and films by their paths, and nothing else. It gives single ranges of all
 * but those whose path begins with "/whole".
 */
export async function pictureServer(
  files: Record<string, Buffer>,
): Promise<{ origin: string; host: string; asked: string[]; close: () => Promise<void> }> {
  const asked: string[] = [];
  const server = createServer((req, res) => {
    const path = req.url ?? '';
    const file = files[path];
    asked.push(`${req.method} ${path}${req.headers.range ? ` ${req.headers.range}` : ''}`);
    if (!file) return void res.writeHead(404).end();
    const ranges = !path.startsWith('/whole');
    const type = TYPES[path.split('.').at(-1)!] ?? 'application/octet-stream';
    const headers = { 'content-type': type, ...(ranges ? { 'accept-ranges': 'bytes' } : {}) };
    const [, from, to] = (ranges && /^bytes=(\d+)-(\d+)$/.exec(req.headers.range ?? '')) || [];
    if (from === undefined || to === undefined)
      return void res.writeHead(200, { ...headers, 'content-length': file.length }).end(file);
    const part = file.subarray(Number(from), Number(to) + 1);
    res.writeHead(206, { ...headers, 'content-range': `bytes ${from}-${to}/${file.length}` }).end(part);
  });
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  const address = server.address();
  const host = `127.0.0.1:${typeof address === 'object' && address ? address.port : 0}`;
  return { origin: `http://${host}`, host, asked, close: () => new Promise((done) => server.close(() => done())) };
}

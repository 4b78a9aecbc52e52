import { createServer } from 'node:http';
import sharp from 'sharp';

/** A picture of one colour, as PNG. */
export const drawnPicture = (width: number, height: number): Promise<Buffer> =>
  sharp({ create: { width, height, channels: 3, background: '#0b6b72' } })
    .png()
    .toBuffer();

/** A server on loopback that has these pictures by their paths, and nothing else. */
export async function pictureServer(
  pictures: Record<string, Buffer>,
): Promise<{ origin: string; host: string; close: () => Promise<void> }> {
  const server = createServer((req, res) => {
    const picture = pictures[req.url ?? ''];
    if (!picture) return void res.writeHead(404).end();
    res.writeHead(200, { 'content-type': 'image/png' }).end(picture);
  });
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  const address = server.address();
  const host = `127.0.0.1:${typeof address === 'object' && address ? address.port : 0}`;
  return { origin: `http://${host}`, host, close: () => new Promise((done) => server.close(() => done())) };
}

import {
  BufferTarget,
  EncodedPacket,
  EncodedVideoPacketSource,
  Mp4OutputFormat,
  Output,
  WebMOutputFormat,
} from 'mediabunny';

/**
 * A film with the outside of a real one: a second for each key picture, whose bytes nobody looks at.
 *
 * @param padding bytes of each picture
 */
export async function madeFilm(
  format: 'mp4' | 'webm',
  width: number,
  height: number,
  seconds: number,
  padding = 200,
): Promise<Buffer> {
  const target = new BufferTarget();
  const output = new Output({ format: format === 'mp4' ? new Mp4OutputFormat() : new WebMOutputFormat(), target });
  const pictures = new EncodedVideoPacketSource('vp9');
  output.addVideoTrack(pictures);
  await output.start();
  const decoderConfig = { codec: 'vp09.00.10.08', codedWidth: width, codedHeight: height };
  for (let second = 0; second < seconds; second++)
    await pictures.add(new EncodedPacket(new Uint8Array(padding), 'key', second, 1), { decoderConfig });
  await output.finalize();
  return Buffer.from(target.buffer!);
}

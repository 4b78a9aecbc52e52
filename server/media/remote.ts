// Pictures and films that lie elsewhere on the web, looked at before a network is told to take them.
import { CustomSource } from 'mediabunny';
import type { MediaFacts } from '@playa/core/outlets/media.ts';
import { FetchTrouble } from '../guard/guard.ts';
import type { Services } from '../base/services.ts';
import { filmFacts } from './facts.ts';

/** The largest picture that is read, in bytes. */
const LARGEST = 20_000_000;
/** As much of a film is read to find out what it is, in bytes. */
const MOST_OF_FILM = 12_000_000;

/** @returns undefined when it cannot be had */
export async function fetchPicture(services: Services, url: string): Promise<Buffer | undefined> {
  try {
    const answer = await services.guard.fetch(url, { limit: LARGEST, timeout: services.config.answerWithin });
    return answer.status < 400 ? answer.body : undefined;
  } catch (error) {
    if (error instanceof FetchTrouble) return undefined;
    throw error;
  }
}

/**
 * What a film on the web is: its type and size as its host says (RFC 9110 sections 8.3 and 8.6), and where the host
 * gives single ranges (section 14), its shape and length from the bytes that say so.
 *
 * @returns undefined when it cannot be had; what cannot be told is null
 */
export async function remoteFilm(services: Services, url: string): Promise<MediaFacts | undefined> {
  const timeout = services.config.answerWithin;
  try {
    const head = await services.guard.fetch(url, { method: 'HEAD', timeout });
    // Some hosts answer no HEAD; the network will see for itself.
    if (head.status >= 400) return undefined;
    const type = head.headers['content-type']?.split(';', 1)[0]!.trim().toLowerCase();
    const bytes = /^\d+$/.test(head.headers['content-length'] ?? '') ? Number(head.headers['content-length']) : null;
    const said: MediaFacts = {
      mediaType: type?.startsWith('video/') ? type : null,
      bytes,
      width: null,
      height: null,
      seconds: null,
    };
    if (bytes === null || head.headers['accept-ranges'] !== 'bytes') return said;
    return (await lookInside(services, head.url, bytes)) ?? said;
  } catch (error) {
    if (error instanceof FetchTrouble) return undefined;
    throw error;
  }
}

async function lookInside(services: Services, url: string, bytes: number): Promise<MediaFacts | undefined> {
  let left = MOST_OF_FILM;
  const source = new CustomSource({
    getSize: () => bytes,
    read: async (start, end) => {
      left -= end - start;
      if (left < 0) throw new TooMuch();
      const answer = await services.guard.fetch(url, {
        headers: { range: `bytes=${start}-${end - 1}` },
        limit: end - start,
        timeout: services.config.answerWithin,
      });
      if (answer.status !== 206 || answer.body.length !== end - start) throw new TooMuch();
      return answer.body;
    },
  });
  try {
    return await filmFacts(source, bytes);
  } catch (error) {
    // A film that hides what it is, or that is no film: its network says what it thinks of it.
    if (error instanceof FetchTrouble) throw error;
    return undefined;
  }
}

/** More would have to be read than is worth it. */
class TooMuch extends Error {
  override name = 'TooMuch';
}

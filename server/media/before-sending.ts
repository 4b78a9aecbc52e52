// Pictures and films as networks take them. Each is looked at before a post goes out first; a picture that its outlet
// would refuse is brought to an allowed shape, if the step says how, and otherwise the post is held with a sentence about
// it.
import type { Media, PublishInput } from '@playa/core/model/acts.ts';
import { KIND_RULES } from '@playa/core/outlets/kinds.ts';
import { mediaTrouble, type MediaFacts } from '@playa/core/outlets/media.ts';
import { NetworkTrouble } from '../connectors/connector.ts';
import type { Services } from '../base/services.ts';
import type { Outlet } from '../store/outlets.ts';
import { pictureFacts } from './facts.ts';
import { ownFile, withOrigin } from './library.ts';
import { fetchPicture, remoteFilm } from './remote.ts';
import { orderAddress } from './shape.ts';

/**
 * The post with pictures and films that its outlet takes. What it becomes depends on what was asked alone, never on what
 * is found at an address: a second try has to be the same request as the first, or its network could not know it again.
 *
 * @param unsure an earlier try may have gone out: nothing is looked at then, since no picture could say that it has not
 * @throws NetworkTrouble of the kind fix when something will not do, of the kind retry when it cannot be had right now
 */
export async function withMedia(
  services: Services,
  outlet: Outlet,
  input: PublishInput,
  unsure: boolean,
): Promise<PublishInput> {
  if (!input.media?.length) return input;
  if (!unsure) for (const each of input.media) await look(services, outlet, each);
  return { ...input, media: input.media.map((each) => reshaped(services, each)) };
}

/** A picture that is to be brought to a shape is found at an address of Playa's own. */
function reshaped(services: Services, { shape, ...media }: Media): Media {
  const url = withOrigin(services, media.url);
  return { ...media, url: shape ? orderAddress(services, { url, ...shape }) : url };
}

async function look(services: Services, outlet: Outlet, { type, url, shape }: Media): Promise<void> {
  const rules = KIND_RULES[outlet.kind].media;
  if (type !== 'picture' && type !== 'video') return;
  const own = await ownFile(services, url);
  if (own === null) throw new NetworkTrouble('fix', 'The file of this post is gone. Choose another.');
  const judged = type === 'picture' ? rules.shape !== null : rules.films !== null;
  if (!own && !judged) return;
  const facts =
    own ?? (type === 'picture' ? await aboutPicture(services, url, outlet.name) : await remoteFilm(services, url));
  if (!facts) {
    // What Playa cannot get the network may, and says itself when it cannot; but to change it, Playa has to have it.
    if (shape) throw new NetworkTrouble('retry', 'The picture cannot be had at the moment.');
    return;
  }
  const trouble = mediaTrouble(outlet.kind, type, facts, outlet.name);
  if (trouble && !(shape && trouble.canBeShaped))
    throw new NetworkTrouble('fix', trouble.says, { fault: trouble.canBeShaped ? 'shape' : undefined });
}

async function aboutPicture(services: Services, url: string, where: string): Promise<MediaFacts | undefined> {
  const picture = await fetchPicture(services, url);
  if (!picture) return undefined;
  const facts = await pictureFacts(picture, picture.length);
  if (!facts) throw new NetworkTrouble('fix', `What should be the picture for ${where} is none that can be read.`);
  return facts;
}

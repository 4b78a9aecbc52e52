// How the demonstration's brand answers: what text models are told, and what their drafts are held against.
import { usualVoice, type Voice } from '@playa/core/voice/voice.ts';
import type { Services } from '../base/services.ts';
import { keepVoice } from '../desk/voice.ts';
import { outletsOf } from '../store/outlets.ts';

/** The lidos’ voice, with what is different at each pool. */
export async function giveVoice(services: Services, brandId: number): Promise<void> {
  const listings = (await outletsOf(services.pool, brandId)).filter(({ kind }) => kind === 'listing');
  const at = (name: string) => listings.filter((each) => each.name.startsWith(name)).map(({ id }) => id);
  const voice: Voice = {
    ...usualVoice('en-GB'),
    tone: 'Warm and plain, as somebody who swims there too.',
    does: ['Mention what they wrote about.', 'Say what we will do, where something was wrong.'],
    never: ['Argue, or explain the rules.', 'Mention other visitors or the staff by name.'],
    signOff: '– The team at the lidos',
    languages: ['en', 'pt', 'de'],
    longest: 500,
    facts: [
      'A swim is £6.50, for children £3.',
      'Timetable: ternbay.example/timetable',
      'Write to post@ternbay.example',
    ],
    promises: 'refund, money back, compensation, "free", voucher',
    places: [
      ...at('Gannet').map((outlet) => ({
        outlet,
        signOff: '– The team at Gannet Point',
        facts: ['The diving stones are open from two hours before high water.'],
      })),
      ...at('Old Quay').map((outlet) => ({ outlet, signOff: '– The team at Old Quay' })),
    ],
  };
  await keepVoice(services, brandId, voice);
}

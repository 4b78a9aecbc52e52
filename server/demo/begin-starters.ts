// Sets up the demonstration's workflows that reach every other kind of network.
import { Readable } from 'node:stream';
import type { Definition } from '@playa/core/workflow/definition.ts';
import { NETWORK_KINDS, type NetworkKind } from '@playa/core/outlets/networks.ts';
import { openOutlet } from '../accounts/outlets.ts';
import type { Services } from '../base/services.ts';
import { outletsOf, type Outlet } from '../store/outlets.ts';
import { takeFile } from '../media/library.ts';
import { describeFile } from '../store/files.ts';
import { keepTimetable } from '../store/timetables.ts';
import { keepSnippet } from '../store/snippets.ts';
import { keepWatch } from '../store/watches.ts';
import { addWorkflow } from '../store/workflows.ts';
import { findSource } from '../watch/find-source.ts';
import { lookNow } from '../watch/look.ts';
import { LOOK_EVERY, watchOutlet } from '../watch/watchable.ts';
import { goLive } from '../workflows/go-live.ts';
import { connectForDemo } from './connect.ts';
import { clipsSpread, filmsIntoPlan, makeClips, makeContentPlan, makeInStep, planGoesOut } from './content-plan.ts';
import { giveVoice } from './voice.ts';
import * as starters from './starters.ts';

/** Video and pages are connected a month earlier; for a web hook nobody here listens. */
const KINDS = NETWORK_KINDS.filter((kind) => kind !== 'video' && kind !== 'pages' && kind !== 'webhook');

export class Starters {
  readonly #services: Services;
  readonly #brand: number;
  readonly #user: number;
  #outlets: Outlet[] = [];
  #accounts = new Map<NetworkKind, number>();
  /** What is looked at, so that whoever lives through the past can look. */
  readonly watches: number[] = [];
  /** The watch of the table in which the crew plans. */
  plan = 0;
  /** The sheet for clips. */
  clips = 0;

  constructor(services: Services, brand: number, user: number) {
    this.#services = services;
    this.#brand = brand;
    this.#user = user;
  }

  /**
   * Connects everything and goes live.
   *
   * @param films the watch of the channel's films
   * @param real what time it really is: what the crew plans, it plans from there
   */
  async begin(films: number, real: number): Promise<void> {
    for (const kind of KINDS)
      this.#accounts.set(kind, await connectForDemo(this.#services, this.#user, this.#brand, kind));
    for (const address of ['@ternbaywater', '@coastdigest'])
      await openOutlet(this.#services, this.#brand, this.#accounts.get('broadcast')!, address);
    for (const handle of ['@harbourmaster', '@gannetdivers', '@tidetables', '@oldquayhistory'])
      await openOutlet(this.#services, this.#brand, this.#accounts.get('microblog')!, handle);
    this.#outlets = await outletsOf(this.#services.pool, this.#brand);

    const at = (kind: NetworkKind, name: string): Outlet => {
      const account = this.#accounts.get(kind);
      const found = this.#outlets.find((outlet) => outlet.accountId === account && outlet.name === name);
      if (!found) throw new Error(`The demonstration misses ${name} at ${kind}.`);
      return found;
    };
    const feed = at('photos', '@ternbaylidos');
    const notes = at('microblog', '@ternbaylidos');
    const page = this.#outlets.find((outlet) => outlet.kind === 'page' && outlet.name === 'Tern Bay Lidos')!;
    const room = at('rooms', '#new-films · Tern Bay crew');
    const lifeguards = room.details.groups?.find((group) => group.name === 'Lifeguards')?.id;
    const table = (name: string) => at('sheets', `Marketing · ${name}`).id;
    const photos = await this.#watch(feed, 'photos');
    const reviews = await this.#watchAll(
      'listings',
      ['Tern Bay Lido', 'Gannet Point Pool', 'Old Quay Pool'],
      'reviews',
    );
    const bookings = await this.#watchAll('bookings', ['Beginners’ lesson', 'Sunrise swim', 'Aqua class'], 'bookings');
    const neighbours = await this.#watchAll(
      'microblog',
      ['@harbourmaster', '@gannetdivers', '@tidetables', '@oldquayhistory'],
      'notes',
    );

    await this.#live(
      'Films to every other place',
      starters.filmsEverywhere(films, [
        at('boards', 'Swim lessons · Beginners').id,
        at('professional', 'Tern Bay Lidos').id,
        notes.id,
        feed.id,
      ]),
    );
    await this.#live('New films for the crew', starters.filmAlert(films, room.id, lifeguards));
    await this.#live('Neighbours’ notes', starters.coastToRoom(neighbours, at('rooms', '#general · Tern Bay crew').id));
    await this.#live(
      'What the coast talks about',
      starters.trendsDigest(await this.#trends(notes), table('Trends'), at('broadcast', 'Tern Bay water').id),
    );
    await this.#live(
      'Incidents told',
      starters.incidents(await this.#watch(at('helpdesk', 'Pools'), 'records'), {
        page: page.id,
        microblog: notes.id,
        helpdesk: at('helpdesk', 'Pools').id,
        mailbox: at('mail', 'mo@ternbay.example').id,
      }),
    );
    await this.#live('Own photos to the table', starters.ownPosts(photos, table('Own posts')));
    await makeInStep(this.#services, this.#brand, table('Own posts'), 'Own posts');
    await this.#live('Own photos to the board', starters.photosToBoard(photos, at('boards', 'Our photographs').id));
    await this.#live('Bookings pictured', starters.bookingPhotos(bookings, at('files', 'Class pictures').id, feed.id));
    await giveVoice(this.#services, this.#brand);
    await this.#live('Reviews answered', starters.reviewAnswers(reviews, at('text-model', 'Tide, small').id));
    await this.#live(
      'Timetable asked for',
      starters.timetableAsked(
        { comments: await this.#watch(feed, 'comments'), messages: await this.#watch(feed, 'messages') },
        feed.id,
        at('mail', 'mo@ternbay.example').id,
      ),
    );
    this.plan = await this.#watch(at('sheets', 'Marketing · Plan'), 'rows');
    await this.#live('The plan, posted', starters.planPosted(this.plan, page.id));
    for (const [outlet, times] of [
      [page, starters.PAGE_TIMES],
      [notes, starters.NOTE_TIMES],
      [feed, starters.PHOTO_TIMES],
    ] as const)
      await keepTimetable(this.#services.pool, this.#brand, outlet.id, times, 0);
    await this.#live('The plan, on the microblog', starters.planSpread(this.plan, notes.id));
    const plan = await makeContentPlan(this.#services, this.#brand, real);
    await this.#live('Films into the content plan', filmsIntoPlan(films, plan));
    await this.#live('The content plan goes out', planGoesOut(plan, at('professional', 'Tern Bay Lidos').id));
    const clips = await makeClips(this.#services, this.#brand);
    this.clips = clips.id;
    await this.#live('Clips spread over the week', clipsSpread(clips, page.id));
    const { pool, clock } = this.#services;
    await keepSnippet(pool, this.#brand, starters.SIGN_OFF, clock());
    for (const { at: path, name, alt } of starters.PICTURES) await this.#picture(path, name, alt);
    await addWorkflow(pool, this.#brand, 'Thanks by stars', starters.thanksByStars(reviews), clock());
  }

  /** A picture of the brand's own, drawn by Lagoon. */
  async #picture(path: string, name: string, alt: string): Promise<void> {
    const { pool, config, guard } = this.#services;
    const { body } = await guard.fetch(config.networks.pages!.base + path);
    const who = { brandId: this.#brand, userId: this.#user };
    const { id } = await takeFile(this.#services, who, name, Readable.from([body]));
    await describeFile(pool, this.#brand, id, { name, alt });
  }

  async #watch(outlet: Outlet, what: string): Promise<number> {
    const id = await watchOutlet(this.#services, this.#brand, outlet.id, what);
    await lookNow(this.#services, id);
    this.watches.push(id);
    return id;
  }

  async #watchAll(kind: NetworkKind, names: readonly string[], what: string): Promise<number[]> {
    const account = this.#accounts.get(kind);
    const ids: number[] = [];
    for (const name of names) {
      const outlet = this.#outlets.find((each) => each.accountId === account && each.name === name);
      if (!outlet) throw new Error(`The demonstration misses ${name} at ${kind}.`);
      ids.push(await this.#watch(outlet, what));
    }
    return ids;
  }

  /** A JSON Feed: no account is needed for it. @param near an outlet at the same network, for its address */
  async #trends(near: Outlet): Promise<number> {
    const { found } = await findSource(this.#services, near.address!.replace(/\/@.*$/, '/trends.json'));
    if (!found) throw new Error('The feed of trends cannot be read.');
    const id = await keepWatch(this.#services.pool, {
      brandId: this.#brand,
      sourceKey: found.key,
      kind: found.kind,
      params: found.params,
      name: found.name,
      things: 'trends',
      everySeconds: LOOK_EVERY.demo,
    });
    await lookNow(this.#services, id);
    this.watches.push(id);
    return id;
  }

  async #live(name: string, definition: Definition): Promise<void> {
    const services = this.#services;
    const workflowId = await addWorkflow(services.pool, this.#brand, name, definition, services.clock());
    await goLive(services, {
      brandId: this.#brand,
      workflowId,
      revision: 1,
      userId: this.#user,
      beginning: { last: 0, every: 0 },
    });
  }
}

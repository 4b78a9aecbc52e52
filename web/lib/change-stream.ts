// Being told what changes. A browser opens at most six connections to one server over HTTP/1.1 (RFC 9112 section 9.4
// leaves the number to it; six is what browsers have), and each stream of events takes one for as long as it lasts: so
// all tabs of a browser share one. One of them holds it and passes on what it hears; when that tab goes, another takes
// over.

export type Topic = 'items' | 'runs' | 'workflows' | 'accounts' | 'watches' | 'sheets' | 'desk';
/** Something changed, or the connection is back and anything may have. */
export type Heard = { topic: Topic; ref: number | null; revision?: number | null } | 'back';
type Listener = (heard: Heard) => void;

/** After this long a stream that the server refused is tried again. */
const AGAIN = 5000;

class ChangeStream {
  readonly listeners = new Set<Listener>();
  readonly #address: string;
  readonly #channel: BroadcastChannel | undefined;
  readonly #closing = new AbortController();
  #source: EventSource | undefined;
  #retry: ReturnType<typeof setTimeout> | undefined;
  #release: (() => void) | undefined;

  constructor(at: string) {
    this.#address = `/api${at}/events`;
    const name = `playa changes ${at}`;
    // Only where the page was fetched safely do tabs have locks; elsewhere each has a stream of its own.
    const { locks } = navigator as { locks?: LockManager };
    if (!locks) {
      this.#lead(false);
      return;
    }
    this.#channel = new BroadcastChannel(name);
    this.#channel.addEventListener('message', ({ data }: MessageEvent<Heard>) => this.#tell(data));
    void this.#take(locks, name);
  }

  /** Holds the stream, now or when the tab that holds it goes. */
  async #take(locks: LockManager, name: string): Promise<void> {
    const hold = (missed: boolean) =>
      new Promise<void>((resolve) => {
        this.#release = resolve;
        if (this.#closing.signal.aborted) return resolve();
        this.#lead(missed);
      });
    const held = await locks.request(name, { ifAvailable: true }, async (lock) => {
      if (lock) await hold(false);
      return lock !== null;
    });
    if (held || this.#closing.signal.aborted) return;
    // What changed between two tabs was told to nobody.
    await locks.request(name, { signal: this.#closing.signal }, () => hold(true)).catch(() => undefined);
  }

  /** @param missed whether changes may have gone unheard before */
  #lead(missed: boolean): void {
    let before = missed;
    const source = new EventSource(this.#address);
    this.#source = source;
    source.addEventListener('hello', () => {
      if (before) this.#pass('back');
      before = true;
    });
    source.addEventListener('change', (event) => {
      this.#pass(JSON.parse((event as MessageEvent<string>).data) as Heard);
    });
    source.addEventListener('error', () => {
      // A lost connection the browser makes anew by itself; a refusal it takes for good.
      if (source.readyState !== EventSource.CLOSED || this.#closing.signal.aborted) return;
      clearTimeout(this.#retry);
      this.#retry = setTimeout(() => this.#lead(true), AGAIN);
    });
  }

  #pass(heard: Heard): void {
    this.#channel?.postMessage(heard);
    this.#tell(heard);
  }

  #tell(heard: Heard): void {
    for (const listener of [...this.listeners]) listener(heard);
  }

  close(): void {
    this.#closing.abort();
    clearTimeout(this.#retry);
    this.#source?.close();
    this.#channel?.close();
    this.#release?.();
  }
}

const streams = new Map<string, ChangeStream>();

/**
 * Listens to what changes in a brand. All views of a tab listen to the same stream.
 *
 * @param at where the brand's things are in the API
 * @returns ends the listening
 */
export function listen(at: string, listener: Listener): () => void {
  let stream = streams.get(at);
  if (!stream) streams.set(at, (stream = new ChangeStream(at)));
  const own = stream;
  own.listeners.add(listener);
  return () => {
    own.listeners.delete(listener);
    if (own.listeners.size > 0) return;
    // Another view may be about to listen: going from one to the next ends no stream.
    setTimeout(() => {
      if (own.listeners.size > 0 || streams.get(at) !== own) return;
      streams.delete(at);
      own.close();
    }, 1000);
  };
}

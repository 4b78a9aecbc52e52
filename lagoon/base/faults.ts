import type { NextFunction, Request, Response } from 'express';

/**
 * Ways in which a service can misbehave. `after` acts first and then fails to say so, which is the hardest case for
 * whoever asked.
 */
export type Fault =
  | { kind: 'error'; status: number }
  | { kind: 'limit'; seconds: number }
  | { kind: 'slow'; milliseconds: number }
  | { kind: 'hang' }
  | { kind: 'garbled' }
  | { kind: 'hangAfter' }
  | { kind: 'errorAfter'; status: number }
  | { kind: 'slowAfter'; milliseconds: number };

interface Planned {
  fault: Fault;
  /** How many more requests it meets. */
  left: number;
  /** Share of requests it meets, 0 to 1. */
  share: number;
}

/** The misbehaviour ordered for each service. */
export class Faults {
  readonly #planned = new Map<string, Planned[]>();

  order(service: string, fault: Fault, count: number, share = 1): void {
    this.#planned.set(service, [...(this.#planned.get(service) ?? []), { fault, left: count, share }]);
  }

  clear(): void {
    this.#planned.clear();
  }

  list(): { service: string; fault: Fault; left: number }[] {
    return [...this.#planned].flatMap(([service, all]) => all.map(({ fault, left }) => ({ service, fault, left })));
  }

  #next(service: string): Fault | undefined {
    const all = this.#planned.get(service) ?? [];
    const index = all.findIndex((each) => each.left > 0 && Math.random() < each.share);
    if (index < 0) return undefined;
    const planned = all[index]!;
    planned.left--;
    if (planned.left <= 0) all.splice(index, 1);
    return planned.fault;
  }

  /** Express middleware that lets the next request of the service go wrong, when so ordered. */
  middleware(service: string) {
    return (_req: Request, res: Response, next: NextFunction): void => {
      const fault = this.#next(service);
      switch (fault?.kind) {
        case undefined:
          return next();
        case 'error':
          return void res
            .status(fault.status)
            .json({ error: { code: 'unwell', message: 'Something broke on our side.' } });
        case 'limit':
          return void res
            .status(429)
            .set('Retry-After', String(fault.seconds))
            .json({ error: { code: 'slow_down', message: 'Too many requests.' } });
        case 'slow':
          return void setTimeout(next, fault.milliseconds);
        case 'hang':
          return;
        case 'hangAfter':
          res.json = () => res;
          res.send = () => res;
          res.end = () => res;
          return next();
        case 'garbled':
          res.json = () => res.type('text').send('{"surprise": ');
          return next();
        case 'slowAfter': {
          const { milliseconds } = fault;
          const json = res.json.bind(res);
          res.json = (body: unknown) => {
            setTimeout(() => json(body), milliseconds);
            return res;
          };
          return next();
        }
        case 'errorAfter': {
          const [send, end] = [res.status.bind(res), res.end.bind(res)];
          const broken = () => {
            res.end = end;
            send(fault.status);
            return res.type('text').end('broken');
          };
          res.json = broken;
          // What has nothing to say breaks off as well.
          res.end = broken as typeof res.end;
          return next();
        }
      }
    };
  }
}

import { Router, type Express, type Request, type Response } from 'express';
import type { Me } from '@ecoute/contract/people';
import { check, type Shape } from '@ecoute/contract/validation';
import type { Policy } from './access/policies';
import { signedIn } from './access/signedIn';
import { notFound, Trouble } from './trouble';

export type Method = 'get' | 'post' | 'put' | 'patch' | 'delete' | 'head';

/** What a handler gets: the person (policies that need none leave it to `person()` to object), ids, body. */
export interface Call<Body> {
  req: Request;
  res: Response;
  body: Body;
  /** A path parameter; always a UUID (but for `code`, which is read from the request). */
  id(name: string): string;
  /** Who is asking. @throws Trouble when nobody is signed in. */
  person(): Me;
}

export interface Route<Body = unknown> {
  method: Method;
  path: string;
  policy: Policy;
  body?: Shape<Body & object>;
  /** Its result is the JSON answer; undefined where it has answered itself. */
  handle: (call: Call<Body>) => Promise<unknown>;
}

/** Declares one route. The policy is an argument like the path: there is no way to leave it out. */
export function route<Body extends object = object>(
  method: Method,
  path: string,
  policy: Policy,
  handle: (call: Call<Body>) => Promise<unknown>,
  body?: Shape<Body>,
): Route {
  return { method, path, policy, handle, body } as Route;
}

/** What stands in a link that is typed from a poster. */
const CODE = /^[0-9a-z-]{1,40}$/i;
/** In small letters alone: one thing has one address. */
const UUID = /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/;

/** Hangs routes into Express. @throws Error for a route without a policy: such a server does not start. */
export function mount(app: Express, routes: readonly Route[]): void {
  const router = Router();
  for (const { method, path, policy, body, handle } of routes) {
    if (!policy?.name) throw new Error(`${method.toUpperCase()} ${path} names no access policy.`);
    router[method](path, async (req: Request, res: Response) => {
      for (const [name, value] of Object.entries(req.params))
        if (!(name === 'code' ? CODE : UUID).test(String(value))) throw notFound();
      await policy.check(req);
      const result = await handle({
        req,
        res,
        body: body ? valid(body, req.body) : req.body,
        id: name => String(req.params[name]),
        person: () => signedIn(req),
      });
      if (!res.headersSent && !res.writableEnded) {
        if (result === undefined) res.status(204).end();
        else res.json(result);
      }
    });
  }
  app.use(router);
}

function valid<T extends object>(shape: Shape<T>, data: unknown): T {
  const checked = check(shape, data ?? {});
  if (checked.fields)
    throw new Trouble('invalid', Object.values(checked.fields)[0] ?? 'Something here does not fit.', {
      fields: checked.fields,
    });
  return checked.value as T;
}

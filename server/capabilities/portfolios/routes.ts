import type { Response } from 'express';
import { studentLanguage } from '@ecoute/contract/languages';
import {
  NewPortfolioAddress,
  NewPortfolioFile,
  PortfolioContent,
  SavePortfolio,
  ShowPortfolio,
  SuggestForPortfolio,
} from '@ecoute/contract/portfolios';
import type { Policies } from '../../platform/access/policies';
import { sendZip } from '../../platform/packing';
import { languageAsked, sendPrivatePage } from '../../platform/privatePage';
import { route, type Route } from '../../platform/routes';
import { ALONE, sent } from '../../platform/sent';
import { notFound } from '../../platform/trouble';
import type { Portfolios } from './service';

const UUID = /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/;

async function sendFile(res: Response, { path, type }: { path: string; type: string }): Promise<void> {
  const isMedia = /^(audio|video|image)\//.test(type);
  if (!isMedia) res.attachment('recording');
  // Each time it is asked whether it is still shown.
  res.set('Cache-Control', 'private, no-cache').set('Content-Security-Policy', ALONE);
  await sent(res, path, { 'Content-Type': isMedia ? type : 'application/octet-stream' });
}

export function portfolioRoutes(allow: Policies, portfolios: Portfolios): Route[] {
  const own = allow.ownerOfPortfolio();
  const at = '/api/portfolios/:portfolioId';
  return [
    route('get', '/api/portfolios', allow.student(), ({ person }) => portfolios.list(person())),
    route(
      'post',
      '/api/portfolios',
      allow.student(),
      ({ person, body }) => portfolios.make(person(), body),
      PortfolioContent,
    ),
    route('get', at, own, ({ id }) => portfolios.view(id('portfolioId'))),
    route(
      'put',
      at,
      own,
      ({ person, id, body }) => portfolios.save(person(), id('portfolioId'), body),
      SavePortfolio,
    ),
    route('delete', at, own, ({ person, id }) => portfolios.remove(person(), id('portfolioId'), true)),
    route('post', `${at}/restored`, own, ({ person, id }) =>
      portfolios.remove(person(), id('portfolioId'), false),
    ),
    route(
      'post',
      `${at}/files`,
      own,
      ({ person, id, body }) => portfolios.announce(person(), id('portfolioId'), body),
      NewPortfolioFile,
    ),
    route(
      'put',
      `${at}/readers`,
      own,
      ({ person, id, body }) => portfolios.show(person(), id('portfolioId'), body.teacherIds),
      ShowPortfolio,
    ),
    route(
      'post',
      `${at}/addresses`,
      own,
      ({ id, body }) => portfolios.makeAddress(id('portfolioId'), body),
      NewPortfolioAddress,
    ),
    route('delete', `${at}/addresses/:addressId`, own, ({ id }) =>
      portfolios.revoke(id('portfolioId'), id('addressId')),
    ),
    route('get', `${at}/portfolio.pdf`, own, async ({ id, req, res }) => {
      const { address } = req.query;
      if (address !== undefined && !UUID.test(String(address))) throw notFound();
      const { pdf, name } = await portfolios.paper(
        id('portfolioId'),
        address === undefined ? null : String(address),
        studentLanguage(req.query.language),
      );
      res.attachment(name).type('application/pdf').send(pdf);
    }),
    route('get', `${at}/portfolio.zip`, own, async ({ id, req, res }) =>
      sendZip(res, await portfolios.zip(id('portfolioId'), studentLanguage(req.query.language))),
    ),
    route('post', '/api/takes/:takeId/suggestion/declined', allow.student(), ({ person, id }) =>
      portfolios.decline(person(), id('takeId')),
    ),
    // A teacher's side: what is shown to them, and what they suggest.
    route(
      'post',
      '/api/sittings/:sittingId/suggestions',
      allow.teacherOfSitting(),
      ({ person, id, body }) => portfolios.suggest(person(), id('sittingId'), body),
      SuggestForPortfolio,
    ),
    route('delete', '/api/takes/:takeId/suggestion', allow.teacher(), ({ person, id }) =>
      portfolios.takeBack(person(), id('takeId')),
    ),
    route(
      'get',
      '/api/classes/:classId/students/:personId/portfolios',
      allow.teacherOfClass(),
      ({ person, id }) => portfolios.ofStudent(person(), id('personId')),
    ),
    route('get', `${at}/shown`, allow.readerOfPortfolio(), ({ id }) => portfolios.shown(id('portfolioId'))),
    route('get', `${at}/sounds/:recordingId`, allow.readerOfPortfolio(), async ({ id, res }) =>
      sendFile(res, await portfolios.file(id('portfolioId'), 'sound', id('recordingId'))),
    ),
    route('get', `${at}/pictures/:recordingId`, allow.readerOfPortfolio(), async ({ id, res }) =>
      sendFile(res, await portfolios.file(id('portfolioId'), 'picture', id('recordingId'))),
    ),
    // Whoever has the address: the address itself is the key.
    route('get', '/portfolio/:code', allow.anyone(), async ({ req, res }) => {
      sendPrivatePage(
        res,
        await portfolios.page(
          String(req.params.code).toLowerCase(),
          languageAsked(req),
          String(res.locals.nonce),
        ),
      );
    }),
    route('get', '/portfolio/:addressId/sounds/:recordingId', allow.anyone(), async ({ id, res }) =>
      sendFile(res, await portfolios.fileAt(id('addressId'), 'sound', id('recordingId'))),
    ),
    route('get', '/portfolio/:addressId/pictures/:recordingId', allow.anyone(), async ({ id, res }) =>
      sendFile(res, await portfolios.fileAt(id('addressId'), 'picture', id('recordingId'))),
    ),
  ];
}

import 'reflect-metadata';
import { createServer } from 'node:http';
import { existsSync } from 'node:fs';
import path from 'node:path';
import { NestFactory } from '@nestjs/core';
import { ExpressAdapter, type NestExpressApplication } from '@nestjs/platform-express';
import { getDataSourceToken } from '@nestjs/typeorm';
import { DocumentBuilder, SwaggerModule } from '@nestjs/swagger';
import compression from 'compression';
import expressStaticGzip from 'express-static-gzip';
import cluster from 'node:cluster';
import express, { type Request, type Response } from 'express';
import { AppModule } from './app.module.js';
import { alone, whyNoDatabase } from './database/migrating.js';
import { loadDemo } from './demo/load.js';
import { contentPolicy, screens } from './http/content-policy.js';
import { ownHosts, underOwnNames } from './http/hosts.js';
import { numbered, unreadable, within } from './http/problems.js';
import { noStore, sameOrigin, sessions } from './http/session.js';
import { fewAtOnce, notTooMuch, notTooOften } from './http/shares.js';
import { LiveAdapter } from './live/adapter.js';
import { Metrics } from './running/metrics.js';
import { Limits } from './running/limits.js';
import { Log } from './running/log.js';
import { endInTime, runProcesses, sayWell } from './running/processes.js';
import { readEnvironment, type Environment } from './settings/settings.js';

/** Until the database answers, all that can be said is that it does not. */
function waitingRoom(port: number, host: string) {
  const app = express();
  app.use((_: Request, response: Response) =>
    response.status(503).json({ statusCode: 503, message: 'The database does not answer yet.' }),
  );
  const server = createServer(app).listen(port, host);
  return () => new Promise<void>((done) => server.close(() => done()).closeAllConnections());
}

async function main(environment: Environment): Promise<void> {
  const { TEA_PENCIL_PORT: port, TEA_PENCIL_HOST: host, TEA_PENCIL_DATABASE_URL: databaseUrl } = environment;
  // A process that joins others leaves the answering to them until it is ready.
  const leave = cluster.isWorker && (cluster.worker?.id ?? 0) > 1 ? null : waitingRoom(port, host);
  const app = await NestFactory.create<NestExpressApplication>(AppModule, new ExpressAdapter(), {
    logger: new Log(environment.TEA_PENCIL_LOG_LEVEL),
    abortOnError: false,
  });
  if (environment.TEA_PENCIL_DEMO === '1') await alone(app.get(getDataSourceToken()), () => loadDemo(app));

  const secure = !!environment.TEA_PENCIL_URL?.startsWith('https:');
  const session = sessions(databaseUrl, environment.TEA_PENCIL_SECRET, secure);
  const isOwn = ownHosts(environment);
  app.set('trust proxy', environment.TEA_PENCIL_PROXIES);
  app.use(numbered, within(environment.TEA_PENCIL_DEADLINE), app.get(Metrics).watch);
  app.use(contentPolicy(secure));
  app.use(underOwnNames(isOwn));
  app.use(sameOrigin);
  app.use(compression());
  const limits = app.get(Limits);
  app.use('/api', session, noStore, notTooOften(limits), fewAtOnce());
  app.use('/api/manuscripts', notTooMuch(limits));
  app.useBodyParser('json', { limit: '1mb' });
  app.use(unreadable);
  app.useWebSocketAdapter(new LiveAdapter(app, session, isOwn, databaseUrl));

  if (environment.TEA_PENCIL_API_DOCS === '1') {
    const documentation = new DocumentBuilder()
      .setTitle('Tea Pencil')
      .setVersion('0.1')
      .addCookieAuth('tea-pencil')
      .build();
    SwaggerModule.setup('api/docs', app, SwaggerModule.createDocument(app, documentation));
  }

  const pages = path.resolve(import.meta.dirname, '../../web/dist');
  if (existsSync(pages)) {
    // Their names say what is in them, so that they may be kept; they are compressed when they are built.
    const serveStatic = { maxAge: '1y', immutable: true };
    const compressed = { enableBrotli: true, orderPreference: ['br', 'gz'], index: false, serveStatic };
    app.use('/assets', expressStaticGzip(path.join(pages, 'assets'), compressed));
    app.useStaticAssets(pages, { index: false, maxAge: '1h' });
    app.use(screens(path.join(pages, 'index.html')));
  }
  app.enableShutdownHooks();
  endInTime();
  await app.init();
  await leave?.();
  // Longer than clients keep a connection, so that none sends a request on one that is closed at that moment.
  app.getHttpServer().keepAliveTimeout = 30_000;
  await app.listen(port, host);
  sayWell();
}

const end = (problem: unknown): void => {
  console.error(whyNoDatabase(problem) ?? (problem instanceof Error ? problem.message : problem));
  process.exit(1);
};
try {
  const environment = readEnvironment(process.env);
  if (environment.TEA_PENCIL_PROCESSES > 1 && cluster.isPrimary) runProcesses(environment.TEA_PENCIL_PROCESSES);
  else main(environment).catch(end);
} catch (problem) {
  end(problem);
}

import 'reflect-metadata';
import { createServer } from 'node:http';
import { existsSync } from 'node:fs';
import path from 'node:path';
import { NestFactory } from '@nestjs/core';
import { ExpressAdapter, type NestExpressApplication } from '@nestjs/platform-express';
import { DocumentBuilder, SwaggerModule } from '@nestjs/swagger';
import cluster from 'node:cluster';
import express, { type Request, type Response } from 'express';
import { AppModule } from './app.module.js';
import { LiveAdapter } from './collaboration/live.adapter.js';
import { databaseUrl } from './database/database.module.js';
import { loadDemo } from './demo/load.js';
import { contentPolicy, screens } from './http/content-policy.js';
import { sameOrigin, sessions } from './http/session.js';
import { runProcesses, sayWell } from './processes.js';

const port = Number(process.env.TEA_PENCIL_PORT ?? 4870);
const host = process.env.TEA_PENCIL_HOST ?? '127.0.0.1';
const secret = process.env.TEA_PENCIL_SECRET;
if (!secret) throw new Error('TEA_PENCIL_SECRET is not set: start with "npm start".');

/** Until the database answers, all that can be said is that it does not. */
function waitingRoom() {
  const app = express();
  app.use((_: Request, response: Response) =>
    response.status(503).json({ statusCode: 503, message: 'The database does not answer yet.' }),
  );
  const server = createServer(app).listen(port, host);
  return () => new Promise<void>((done) => server.close(() => done()).closeAllConnections());
}

async function main(): Promise<void> {
  // A process that joins others leaves the answering to them until it is ready.
  const leave = cluster.isWorker && cluster.worker!.id > 1 ? null : waitingRoom();
  const app = await NestFactory.create<NestExpressApplication>(AppModule, new ExpressAdapter(), {
    logger: ['error', 'warn'],
  });
  if (process.env.TEA_PENCIL_DEMO !== '0') await loadDemo(app);

  const session = sessions(databaseUrl(), secret!);
  app.use(contentPolicy);
  app.use(sameOrigin);
  app.use('/api', session);
  app.useBodyParser('json', { limit: '1mb' });
  app.useWebSocketAdapter(new LiveAdapter(app, session, databaseUrl()));

  const documentation = new DocumentBuilder()
    .setTitle('Tea Pencil')
    .setVersion('0.1')
    .addCookieAuth('tea-pencil')
    .build();
  SwaggerModule.setup('api/docs', app, SwaggerModule.createDocument(app, documentation));

  const pages = path.resolve(import.meta.dirname, '../../web/dist');
  if (existsSync(pages)) {
    app.useStaticAssets(pages, { index: false, maxAge: '1h' });
    app.use(screens(path.join(pages, 'index.html')));
  }
  app.enableShutdownHooks();
  await app.init();
  await leave?.();
  // Longer than clients keep a connection, so that none sends a request on one that is closed at that moment.
  app.getHttpServer().keepAliveTimeout = 30_000;
  await app.listen(port, host);
  sayWell();
}

const processes = Number(process.env.TEA_PENCIL_PROCESSES ?? 1);
if (processes > 1 && cluster.isPrimary) runProcesses(processes);
else
  main().catch((problem: unknown) => {
    console.error(problem instanceof Error ? problem.message : problem);
    process.exit(1);
  });

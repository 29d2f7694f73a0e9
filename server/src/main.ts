import 'reflect-metadata';
import { createServer } from 'node:http';
import { existsSync } from 'node:fs';
import path from 'node:path';
import { NestFactory } from '@nestjs/core';
import { ExpressAdapter, type NestExpressApplication } from '@nestjs/platform-express';
import { DocumentBuilder, SwaggerModule } from '@nestjs/swagger';
import express, { type NextFunction, type Request, type Response } from 'express';
import helmet from 'helmet';
import { AppModule } from './app.module.js';
import { LiveAdapter } from './collaboration/live.adapter.js';
import { databaseUrl } from './database/database.module.js';
import { loadDemo } from './demo/load.js';
import { sameOrigin, sessions } from './http/session.js';

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
  const leave = waitingRoom();
  const app = await NestFactory.create<NestExpressApplication>(AppModule, new ExpressAdapter(), {
    logger: ['error', 'warn'],
  });
  if (process.env.TEA_PENCIL_DEMO !== '0') await loadDemo(app);

  const session = sessions(databaseUrl(), secret!);
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          defaultSrc: ["'self'"],
          // The interface's style engine writes style elements at run time.
          styleSrc: ["'self'", "'unsafe-inline'"],
          imgSrc: ["'self'", 'data:', 'blob:'],
          connectSrc: ["'self'", 'ws:', 'wss:'],
          objectSrc: ["'none'"],
          frameAncestors: ["'none'"],
          baseUri: ["'self'"],
        },
      },
      strictTransportSecurity: false,
    }),
  );
  app.use(sameOrigin);
  app.use('/api', session);
  app.useBodyParser('json', { limit: '1mb' });
  app.useWebSocketAdapter(new LiveAdapter(app, session));

  const documentation = new DocumentBuilder()
    .setTitle('Tea Pencil')
    .setVersion('0.1')
    .addCookieAuth('tea-pencil')
    .build();
  SwaggerModule.setup('api/docs', app, SwaggerModule.createDocument(app, documentation));

  const pages = path.resolve(import.meta.dirname, '../../web/dist');
  if (existsSync(pages)) {
    app.useStaticAssets(pages, { index: false, maxAge: '1h' });
    // Every address that is not the API's is a screen of the app.
    app.use((request: Request, response: Response, next: NextFunction) => {
      if (request.method !== 'GET' || request.path.startsWith('/api')) return next();
      response.set('Cache-Control', 'no-cache').sendFile(path.join(pages, 'index.html'));
    });
  }
  app.enableShutdownHooks();
  await app.init();
  await leave();
  await app.listen(port, host);
}

main().catch((problem: unknown) => {
  console.error(problem instanceof Error ? problem.message : problem);
  process.exit(1);
});

import { createServer } from 'node:http';
import { createRequire } from 'node:module';

// The very version that the server uses.
const { Server } = createRequire(new URL('../../server/package.json', import.meta.url))('socket.io');

/** The same messages passed on without rules and without a database: what any server would take at least. */
const http = createServer();
const server = new Server(http, { path: '/api/live', transports: ['websocket'] });
let version = 0;
server.on('connection', (socket) => {
  socket.on('join', (_, answer) => {
    void socket.join('all');
    answer({ version });
  });
  socket.on('submit', ({ manuscript, steps, client }, answer) => {
    const from = version;
    version += steps.length;
    server.to('all').emit('steps', { manuscript, version: from, steps, clients: steps.map(() => client) });
    answer({ taken: true, version });
  });
});
http.listen(0, '127.0.0.1', () => process.send(http.address().port));

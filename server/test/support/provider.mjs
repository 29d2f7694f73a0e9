import { createServer } from 'node:http';
import Provider from 'oidc-provider';

/** A provider of work accounts for tests, in a process of its own: says where it is, and takes what it says of whom by POST /people. */

const { CLIENT, SECRET, BACK } = process.env;
let people = {};
let handle = null;
const server = createServer((request, response) => {
  if (request.method !== 'POST' || request.url !== '/people') return handle(request, response);
  let body = '';
  request.on('data', (piece) => (body += piece));
  request.on('end', () => {
    people = JSON.parse(body);
    response.end('{}');
  });
});
server.listen(0, '127.0.0.1', () => {
  const issuer = `http://127.0.0.1:${server.address().port}`;
  handle = new Provider(issuer, {
    clients: [{ client_id: CLIENT, client_secret: SECRET, redirect_uris: [BACK] }],
    claims: { openid: ['sub'], email: ['email', 'email_verified'], profile: ['name'] },
    pkce: { required: () => true },
    findAccount: (_, sub) => ({ accountId: sub, claims: () => ({ sub, ...people[sub] }) }),
  }).callback();
  console.log(issuer);
});

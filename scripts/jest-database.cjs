/** Each worker of Jest has a database to itself, and a server. */
const mine = (urls) => {
  const all = (urls ?? '').split(',').filter(Boolean);
  return all[(Number(process.env.JEST_WORKER_ID ?? 1) - 1) % all.length];
};
const { TEA_PENCIL_TEST_DATABASES: databases, TEA_PENCIL_TEST_ADDRESSES: addresses } = process.env;
if (databases) process.env.TEA_PENCIL_TEST_DATABASE = mine(databases);
if (addresses) process.env.TEA_PENCIL_TEST_ADDRESS = mine(addresses);

/** Each worker of Jest has a database to itself. */
const urls = (process.env.TEA_PENCIL_TEST_DATABASES ?? '').split(',').filter(Boolean);
if (urls.length)
  process.env.TEA_PENCIL_TEST_DATABASE = urls[(Number(process.env.JEST_WORKER_ID ?? 1) - 1) % urls.length];

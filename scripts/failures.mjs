/** What failed, out of the reports of Jest and Playwright: to be said once more at the end of a long run. */

/** So many lines of what a failing test said are said again. */
const most = 14;

const said = (message) =>
  String(message ?? '')
    .replace(/\u001b\[\d*m/g, '')
    .split('\n')
    .filter((line) => !/^\s+at .*node_modules/.test(line))
    .slice(0, most)
    .join('\n');

/** @param whole a stage that either holds as a whole or does not, and what it printed */
export const failuresOfWhole = ({ stage, good, printed }) => (good ? [] : [{ title: stage, message: said(printed) }]);

/** @param result what Jest writes with `--json` */
export const failuresOfJest = (result) =>
  (result?.testResults ?? []).flatMap(({ name, message, assertionResults }) => {
    const failed = assertionResults.filter(({ status }) => status === 'failed');
    // A file that cannot be read in has no tests that could fail.
    if (!assertionResults.length && message) return [{ title: name, message: said(message) }];
    return failed.map((test) => ({ title: `${name} › ${test.fullName}`, message: said(test.failureMessages[0]) }));
  });

/** What the windows of a test showed when it failed. */
const windowsOf = (test) => (test?.annotations ?? []).filter(({ type }) => type === 'window');

/** @param report what Playwright's reporter `json` writes */
export const failuresOfScreens = (report) => {
  const ofSuite = ({ suites = [], specs = [] }) => [
    ...specs
      .filter(({ ok }) => !ok)
      .map(({ file, title, tests }) => ({
        title: `${file} › ${title}`,
        message: [
          said(tests[0]?.results.find(({ error }) => error)?.error.message),
          ...windowsOf(tests[0]).map(({ description }) => `A window: ${description}`),
        ].join('\n'),
      })),
    ...suites.flatMap(ofSuite),
  ];
  return ofSuite(report ?? {});
};

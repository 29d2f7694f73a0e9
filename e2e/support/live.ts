import type { Page } from '@playwright/test';

/**
 * Answers in the server’s stead what a window would have kept.
 * @param answer what to say; null lets the server answer, undefined leaves the window without an answer
 */
export async function answerSubmits(page: Page, answer: () => object | null | undefined): Promise<void> {
  await page.routeWebSocket(/\/api\/live/, (window) => {
    const server = window.connectToServer();
    server.onMessage((message) => window.send(message));
    window.onMessage((message) => {
      // An event of Socket.IO that is to be answered, and its answer (socket.io-protocol, packets 2 and 3).
      const [, number] = /^42(\d+)\["submit"/.exec(String(message)) ?? [];
      const said = number === undefined ? null : answer();
      if (said === null) server.send(message);
      else if (said) window.send(`43${number}[${JSON.stringify(said)}]`);
    });
  });
}

/** The number that the server gave this page: styles that bear it are the page's own (Content Security Policy Level 3). */
export const nonce = document.querySelector<HTMLMetaElement>('meta[property=csp-nonce]')?.nonce ?? '';

// Where the style engine of the snackbars looks for it.
(window as { __nonce__?: string }).__nonce__ = nonce;

/** Whether something looks like a mail address. */
export const isMail = (text: string): boolean => /^[^\s@]+@[^\s@]+\.[^\s@]+$/.test(text.trim());

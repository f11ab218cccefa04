/** Lets our own styles through the content security policy; the server writes a new one into each page. */
export const nonce = document.querySelector<HTMLMetaElement>('meta[name="style-nonce"]')?.content ?? '';

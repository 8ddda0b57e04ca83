/** The content security policy lets in only styles that carry the page's nonce. */
export function nonce(): string {
	return document.querySelector<HTMLMetaElement>('meta[name="csp-nonce"]')?.content ?? "";
}

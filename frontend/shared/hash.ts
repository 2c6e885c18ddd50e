/** The SHA-256 of a text or a file, in hexadecimal. */
export async function hashOf(content: string | Blob): Promise<string> {
  const bytes = typeof content === 'string' ? new TextEncoder().encode(content) : await content.arrayBuffer();
  const digest = await crypto.subtle.digest('SHA-256', bytes);
  return [...new Uint8Array(digest)].map((byte) => byte.toString(16).padStart(2, '0')).join('');
}

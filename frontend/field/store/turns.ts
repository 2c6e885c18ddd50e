/** How often PBKDF2-HMAC-SHA-256 turns a PIN over: as often as OWASP’s Password Storage Cheat Sheet asks (2023). */
export const TURNS = 600_000;

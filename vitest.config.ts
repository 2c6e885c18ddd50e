import { defineConfig } from 'vitest/config';

export default defineConfig({
  root: 'frontend',
  test: { environment: 'jsdom', include: ['**/*.test.{ts,tsx}'], setupFiles: ['./testing/setup.ts'], clearMocks: true },
});

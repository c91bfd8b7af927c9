import { defineConfig } from 'vite';

/** The front end's logic, without a browser: bundled for node, which runs it. */
export default defineConfig({
  build: {
    ssr: true,
    target: 'node20',
    outDir: 'node_modules/.logic-tests',
    emptyOutDir: true,
    rolldownOptions: { input: ['test/logic.test.ts', 'test/untouched.ts', 'test/said.ts'] },
  },
});

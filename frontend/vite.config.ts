import { readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import react from '@vitejs/plugin-react';
import { defineConfig, type Plugin } from 'vite';

/** Writes a .gz beside every built text file, so that the server need not compress anything. */
function precompressed(): Plugin {
  const zip = (folder: string): void => {
    for (const name of readdirSync(folder)) {
      const path = join(folder, name);
      if (statSync(path).isDirectory()) zip(path);
      else if (/\.(js|css|html|svg|json)$/.test(name))
        writeFileSync(`${path}.gz`, gzipSync(readFileSync(path), { level: 9 }));
    }
  };
  return { name: 'precompressed', apply: 'build', closeBundle: () => zip('dist') };
}

type Modules = { getModuleInfo(id: string): { importedIds: readonly string[] } | null };

/** The modules that the page needs before anything is tapped: all that main.tsx imports, and what that imports. */
let frame: Set<string> | undefined;
function ofTheFrame(id: string, modules: Modules): string | null {
  if (!frame) {
    frame = new Set();
    const waiting = [join(import.meta.dirname, 'src/main.tsx')];
    for (let next = waiting.pop(); next !== undefined; next = waiting.pop()) {
      if (frame.has(next)) continue;
      frame.add(next);
      waiting.push(...(modules.getModuleInfo(next)?.importedIds ?? []));
    }
  }
  return frame.has(id) ? 'frame' : null;
}

/** Few files of a useful size: each costs a tablet a wait on the shop's air, whatever its size. */
const codeSplitting = {
  groups: [
    { name: ofTheFrame, debugName: 'frame', priority: 3 },
    { name: 'fields', test: /node_modules[\\/](?!@mui[\\/]x-|d3-)/, minShareCount: 2, priority: 2 },
    { name: 'charts', test: /node_modules[\\/](@mui[\\/]x-|d3-)/, priority: 1 },
    { name: 'shared', minShareCount: 3 },
  ],
};

export default defineConfig({
  plugins: [react(), precompressed()],
  build: {
    target: 'es2022',
    manifest: true,
    assetsInlineLimit: 0,
    chunkSizeWarningLimit: 700,
    rolldownOptions: { output: { codeSplitting } },
  },
  server: { host: '127.0.0.1', proxy: { '/api': { target: 'http://127.0.0.1:8437' } } },
});

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

export default defineConfig({
  plugins: [react(), precompressed()],
  build: { target: 'es2022', manifest: true, assetsInlineLimit: 0, chunkSizeWarningLimit: 700 },
  server: { host: '127.0.0.1', proxy: { '/api': { target: 'http://127.0.0.1:8437' } } },
});

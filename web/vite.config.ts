import react from '@vitejs/plugin-react';
import { defineConfig } from 'vitest/config';

export default defineConfig({
  plugins: [react()],
  build: { chunkSizeWarningLimit: 900 },
  // The theme's colours are read from its own text.
  test: { css: { include: [/theme\.css/] } },
  server: { proxy: { '/api': 'http://127.0.0.1:8000' } },
});

import react from '@vitejs/plugin-react';
import { defineConfig } from 'vitest/config';

export default defineConfig({
  plugins: [react()],
  build: {
    chunkSizeWarningLimit: 1000,
    // The page, and the one that paints prints of it.
    rolldownOptions: { input: ['index.html', 'print.html'] },
  },
  // The theme's colours are read from its own text.
  test: { css: { include: [/theme\.css/] } },
  server: { proxy: { '/api': 'http://127.0.0.1:8000' } },
});

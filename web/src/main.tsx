import '@fontsource/spline-sans/latin-400.css';
import '@fontsource/spline-sans/latin-500.css';
import '@fontsource/spline-sans/latin-600.css';
import '@fontsource/spline-sans/latin-ext-400.css';
import '@fontsource/spline-sans-mono/latin-400.css';
import '@fontsource/spline-sans-mono/latin-500.css';
import 'bootstrap/dist/css/bootstrap.min.css';
import 'bootstrap-icons/font/bootstrap-icons.min.css';
import './styles.css';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { App } from './app/App';
import { NoticeBoard } from './app/notices';

const queries = new QueryClient({
  defaultOptions: { queries: { retry: false, refetchOnWindowFocus: false, networkMode: 'always' } },
});

const root = document.getElementById('root');
if (!root) throw new Error('The page has no root.');
createRoot(root).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <NoticeBoard>
        <App />
      </NoticeBoard>
    </QueryClientProvider>
  </StrictMode>,
);

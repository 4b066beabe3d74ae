import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { App } from './App';
import { Refusal } from './api/ledger';
import { fetchAllPages } from './pages';
import './styles.css';

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      // Even without a network the ledger in the van may answer.
      networkMode: 'always',
      retry: (count, error) => !(error instanceof Refusal) && count < 1,
      staleTime: 1000,
    },
    mutations: { networkMode: 'always' },
  },
});

const root = document.getElementById('root');
if (root) {
  // A picture whose file is gone, or that cannot be had now, says so in its place.
  document.addEventListener(
    'error',
    ({ target }) => {
      if (target instanceof HTMLImageElement && target.src.includes('/api/pictures/') && !('gone' in target.dataset)) {
        target.dataset.gone = '';
        target.alt = `Picture not here${target.alt ? `: ${target.alt}` : ''}`;
      }
    },
    true,
  );

  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={queries}>
        <App />
      </QueryClientProvider>
    </StrictMode>,
  );
  // Once the first page stands and has what it shows.
  setTimeout(() => void fetchAllPages(), 1500);
}

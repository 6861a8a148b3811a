import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { BrowserRouter, Navigate, Route, Routes } from 'react-router';
import { isAway } from './api/client';
import { Home } from './home/Home';
import { Routine } from './Routine';
import './styles.css';

const AGAIN_MS = 2000;
/** What could not be read while nothing answered is asked for again until it is there. */
const refetchInterval = ({ state }: { state: { error: unknown } }) => isAway(state.error) && AGAIN_MS;
const queries = new QueryClient({
  defaultOptions: { queries: { retry: false, staleTime: 1000, refetchInterval } },
});
const root = document.getElementById('root');

if (root)
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={queries}>
        <BrowserRouter>
          <Routes>
            <Route path="/" element={<Home />} />
            <Route path="/routines/:id/:screen" element={<Routine />} />
            <Route path="*" element={<Navigate to="/" replace />} />
          </Routes>
        </BrowserRouter>
      </QueryClientProvider>
    </StrictMode>,
  );

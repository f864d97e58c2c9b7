import { QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { BrowserRouter } from 'react-router';
import { App } from './app/App';
import { useKit } from './app/kitStore';
import { queries } from './app/queries';
import { renderOffline } from './player/offline';
import './styles.css';

// What a browser test needs to listen with; it changes nothing.
Object.assign(window, { zestySkin: { player: () => useKit.getState().player, renderOffline } });

createRoot(document.getElementById('root') as HTMLElement).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <BrowserRouter>
        <App />
      </BrowserRouter>
    </QueryClientProvider>
  </StrictMode>,
);

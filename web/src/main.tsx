import { QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { BrowserRouter } from 'react-router';
import { App } from './app/App';
import { strikeNote } from './app/door';
import { useKit } from './app/kitStore';
import { queries } from './app/queries';
import { WithRules } from './app/WithRules';
import { renderOffline } from './player/offline';
import './styles.css';

// What a browser test needs to listen with; it changes nothing.
Object.assign(window, { zestySkin: { player: () => useKit.getState().player, renderOffline, receive: strikeNote } });

createRoot(document.getElementById('root') as HTMLElement).render(
  <StrictMode>
    <QueryClientProvider client={queries}>
      <WithRules>
        <BrowserRouter>
          <App />
        </BrowserRouter>
      </WithRules>
    </QueryClientProvider>
  </StrictMode>,
);

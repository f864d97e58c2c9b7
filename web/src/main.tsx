import { QueryClientProvider } from '@tanstack/react-query';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { BrowserRouter } from 'react-router';
import { useKit } from './app/kit/kitStore';
import { queries } from './app/kit/queries';
import { WithRules } from './app/kit/WithRules';
import { strikeNote } from './app/playing/door';
import { App } from './app/shell/App';
import { renderOffline } from './player/offline';
import './styles.css';

// Lets browser tests listen; it changes nothing.
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

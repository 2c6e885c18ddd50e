import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { BrowserRouter } from 'react-router';
import '../shared/tokens.css';
import '../shared/outdoors.css';
import { App } from './App';
import './field.css';
import { keepStorage } from './store/db';
import { startEngine } from './store/readiness';
import { LanguageProvider } from './texts/LanguageProvider';
import { registerServiceWorker } from './store/update';

const root = document.getElementById('root');
if (root) {
  createRoot(root).render(
    <StrictMode>
      <BrowserRouter basename="/field">
        <LanguageProvider>
          <App />
        </LanguageProvider>
      </BrowserRouter>
    </StrictMode>,
  );
}

keepStorage();
registerServiceWorker();
// The first screen does not wait for the engine; it starts once that is painted.
window.requestIdleCallback(() => {
  startEngine().catch((error: unknown) => {
    console.error(error);
  });
});

import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { BrowserRouter } from 'react-router';
import { Workbox } from 'workbox-window';
import { theEngine } from '../shared/engine/client';
import '../shared/tokens.css';
import { App } from './App';
import './field.css';
import { keepStorage } from './store/db';

const root = document.getElementById('root');
if (root) {
  createRoot(root).render(
    <StrictMode>
      <BrowserRouter basename="/field">
        <App />
      </BrowserRouter>
    </StrictMode>,
  );
}

keepStorage();
// The first screen does not wait for the engine; it starts once that is painted.
window.requestIdleCallback(() => {
  void theEngine().call('start');
});
if ('serviceWorker' in navigator && import.meta.env.PROD) {
  void new Workbox('/sw.js', { scope: '/field/' }).register();
}

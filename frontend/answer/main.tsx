import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import '../shared/tokens.css';
import '../shared/outdoors.css';
import { App } from './App';
import './answer.css';

const root = document.getElementById('root');
if (root) {
  const [, secret = ''] = /^\/answer\/([^/]+)/.exec(window.location.pathname) ?? [];
  createRoot(root).render(
    <StrictMode>
      <App secret={decodeURIComponent(secret)} />
    </StrictMode>,
  );
}

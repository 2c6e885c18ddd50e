import { MutationCache, QueryCache, QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { App as AntApp, ConfigProvider } from 'antd';
import enGB from 'antd/locale/en_GB';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { BrowserRouter } from 'react-router';
import { Problem } from '../shared/api/client';
import '../shared/tokens.css';
import { Office } from './Office';
import './ui/office.css';
import { sessionKey } from './features/session/session';
import { mindTheKeyboard } from './ui/keyboard';
import { theme } from './ui/theme';

const onError = (error: unknown) => {
  if (error instanceof Problem && error.code === 'not_signed_in')
    void queries.invalidateQueries({ queryKey: sessionKey });
};
const queries = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 5_000,
      retry: (count, error) => error instanceof Problem && error.code === 'unreachable' && count < 3,
    },
  },
  queryCache: new QueryCache({ onError }),
  mutationCache: new MutationCache({ onError }),
});

mindTheKeyboard(document);
const root = document.getElementById('root');
if (root) {
  createRoot(root).render(
    <StrictMode>
      <ConfigProvider theme={theme} locale={enGB} wave={{ disabled: true }}>
        <AntApp>
          <QueryClientProvider client={queries}>
            <BrowserRouter>
              <Office />
            </BrowserRouter>
          </QueryClientProvider>
        </AntApp>
      </ConfigProvider>
    </StrictMode>,
  );
}

import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { Provider } from 'react-redux';
import { RouterProvider } from 'react-router';
import { setNonce } from 'get-nonce';
import { router } from './app/router';
import { store } from './base/store';
import './base/theme.css';
import { keepOffline } from './base/offline';
import { applyTheme } from './base/theme';

// The style elements that dialogs insert carry this page's nonce (the content security policy asks for it).
setNonce(document.querySelector<HTMLMetaElement>('meta[name=csp-nonce]')?.content ?? '');
applyTheme();
keepOffline();

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <Provider store={store}>
      <RouterProvider router={router} />
    </Provider>
  </StrictMode>,
);

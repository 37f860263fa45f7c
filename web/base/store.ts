import { configureStore } from '@reduxjs/toolkit';
import { setupListeners } from '@reduxjs/toolkit/query';
import { api } from './api';

export const store = configureStore({
  reducer: { [api.reducerPath]: api.reducer },
  middleware: defaults => defaults().concat(api.middleware),
  // What came is told of at once: the next frame, which it waited for otherwise, can be a fifth of a second away while a page opens.
  enhancers: defaults => defaults({ autoBatch: { type: 'tick' } }),
});
setupListeners(store.dispatch);

export type AppDispatch = typeof store.dispatch;

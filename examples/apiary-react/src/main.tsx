import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import App from './App';
import AssociationPage from './pages/AssociationPage';
import KeepersPage from './pages/KeepersPage';
import PricesPage from './pages/PricesPage';

const page = new URLSearchParams(location.search).get('page');

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    {page === 'keepers' ? (
      <KeepersPage />
    ) : page === 'prices' ? (
      <PricesPage />
    ) : page === 'association' ? (
      <AssociationPage />
    ) : (
      <App />
    )}
  </StrictMode>,
);

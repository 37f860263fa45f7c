import { useState, type ComponentType } from 'react';
import { t } from '../base/i18n';
import { AccountButton, type AccountProps } from './AccountButton';

const load = () => import('./AccountMenu');
const fetchAhead = () => void load().catch(() => undefined);

/** The person's menu: fetched when somebody comes near it, for a first page needs nothing of it. */
export function Account(props: AccountProps) {
  const [Menu, setMenu] = useState<ComponentType<AccountProps> | null>(null);
  const [isMissing, setMissing] = useState(false);
  if (Menu) return <Menu {...props} />;
  return (
    <>
      <AccountButton
        me={props.me}
        aria-haspopup="menu"
        aria-expanded={false}
        onPointerEnter={fetchAhead}
        onFocus={fetchAhead}
        onClick={() =>
          void load().then(
            menu => setMenu(() => menu.default),
            () => setMissing(true),
          )
        }
      />
      {isMissing && <p role="alert">{t('The menu did not come. Press once more.')}</p>}
    </>
  );
}

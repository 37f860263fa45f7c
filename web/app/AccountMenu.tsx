import { DropdownMenu } from 'radix-ui';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { useSignOutMutation } from '../features/signIn/endpoints';
import { Confirm } from '../parts/Confirm';
import { desk } from '../parts/recorder/delivery';
import { chooseLanguage, ownLanguage, SCREEN_LANGUAGES, t, type ScreenLanguage } from '../base/i18n';
import { applyTheme, chosenTheme, type Theme } from '../base/theme';
import { AccountButton, type AccountProps } from './AccountButton';
import { forgetPerson } from './forgetPerson';

/** The person's menu, open. While somebody sits (`busy`) nothing in it may take the page from under them. */
export default function AccountMenu({ me, busy, mailbox }: AccountProps) {
  const [signOut] = useSignOutMutation();
  const navigate = useNavigate();
  const [theme, setTheme] = useState<Theme>(chosenTheme);
  const [asks, setAsks] = useState(false);
  const leave = async () => {
    // First: nothing of this person goes out once they are signed out.
    await desk.belongTo(null);
    await signOut()
      .unwrap()
      .catch(() => undefined);
    await forgetPerson();
    await navigate('/sign-in');
  };
  const entry = 'flex min-h-11 items-center px-4 data-highlighted:bg-sunk outline-none cursor-pointer';
  return (
    <DropdownMenu.Root modal={false} defaultOpen>
      <DropdownMenu.Trigger asChild>
        <AccountButton me={me} />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" className="z-50 min-w-56 border-2 border-ink bg-sheet py-1">
          <DropdownMenu.Label className="px-4 py-1 text-sm text-soft">{t('Appearance')}</DropdownMenu.Label>
          <DropdownMenu.RadioGroup
            value={theme}
            onValueChange={chosen => {
              setTheme(chosen as Theme);
              applyTheme(chosen as Theme);
            }}
          >
            {(['device', 'light', 'dark'] as const).map(choice => (
              <DropdownMenu.RadioItem key={choice} value={choice} className={entry}>
                <DropdownMenu.ItemIndicator className="me-2">✓</DropdownMenu.ItemIndicator>
                {{ device: t('As this device'), light: t('Light'), dark: t('Dark, for evenings') }[choice]}
              </DropdownMenu.RadioItem>
            ))}
          </DropdownMenu.RadioGroup>
          {me.role === 'student' && !busy && (
            <>
              <DropdownMenu.Separator className="my-1 border-t border-line" />
              <DropdownMenu.Label className="px-4 py-1 text-sm text-soft">{t('Language')}</DropdownMenu.Label>
              <DropdownMenu.RadioGroup
                value={ownLanguage()}
                onValueChange={chosen => chooseLanguage(chosen as ScreenLanguage)}
              >
                {Object.entries(SCREEN_LANGUAGES).map(([tag, name]) => (
                  <DropdownMenu.RadioItem key={tag} value={tag} lang={tag} className={entry}>
                    <DropdownMenu.ItemIndicator className="me-2">✓</DropdownMenu.ItemIndicator>
                    {name}
                  </DropdownMenu.RadioItem>
                ))}
              </DropdownMenu.RadioGroup>
            </>
          )}
          <DropdownMenu.Separator className="my-1 border-t border-line" />
          {mailbox && (
            <DropdownMenu.Item className={entry} onSelect={() => void navigate('/mailbox')}>
              Mailbox of the demo
            </DropdownMenu.Item>
          )}
          {!busy && (
            <DropdownMenu.Item className={entry} onSelect={() => void navigate('/account')}>
              {t('Your account')}
            </DropdownMenu.Item>
          )}
          {me.isAdmin && (
            <DropdownMenu.Item className={entry} onSelect={() => void navigate('/administration')}>
              Administration
            </DropdownMenu.Item>
          )}
          <DropdownMenu.Item
            className={entry}
            onSelect={() => (busy || !desk.settled() ? setAsks(true) : void leave())}
          >
            {t('Sign out')}
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
      <Confirm
        open={asks}
        onClose={() => setAsks(false)}
        title={t('Sign out now?')}
        yes={t('Sign out')}
        no={t('Stay')}
        onYes={() => void leave()}
      >
        <p>
          {desk.settled()
            ? t('You are in the middle of a sitting. What is recorded is safe; you can go on with it later.')
            : t(
                'Something you recorded is still on its way. It waits on this device until you sign in here again.',
              )}
        </p>
      </Confirm>
    </DropdownMenu.Root>
  );
}

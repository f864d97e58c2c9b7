import { Moon, Sun } from 'lucide-react';
import { useState } from 'react';
import { Link } from 'react-router';

export function Brand() {
  return (
    <Link to="/" className="flex items-center gap-2 text-[15px] font-bold tracking-tight" title="All kits">
      <img src="/icon.svg" width={24} height={24} alt="" />
      Zesty Skin
    </Link>
  );
}

const isDark = () => {
  const chosen = document.documentElement.dataset.theme;
  return chosen ? chosen === 'dark' : matchMedia('(prefers-color-scheme: dark)').matches;
};

export function ThemeSwitch() {
  const [dark, setDark] = useState(isDark);
  const turn = () => {
    const next = dark ? 'light' : 'dark';
    document.documentElement.dataset.theme = next;
    try {
      localStorage.setItem('theme', next);
    } catch {
      // Private windows may not store it; the switch still works.
    }
    setDark(!dark);
  };
  return (
    <button
      type="button"
      onClick={turn}
      className="rounded-md p-1.5 text-soft hover:bg-sunk"
      aria-label={dark ? 'Light theme' : 'Dark theme'}
      title={dark ? 'Light theme' : 'Dark theme'}
    >
      {dark ? <Sun size={16} /> : <Moon size={16} />}
    </button>
  );
}

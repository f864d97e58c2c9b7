// Before anything is drawn: the theme somebody chose.
try {
  const chosen = localStorage.getItem('theme');
  if (chosen === 'light' || chosen === 'dark') document.documentElement.dataset.theme = chosen;
} catch {}

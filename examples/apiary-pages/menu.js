// The menu opens on narrow screens.
window.startMenu = function (selector) {
  const menu = document.querySelector(selector);
  menu.addEventListener('click', () => menu.classList.toggle('open'));
};

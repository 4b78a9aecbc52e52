import { createRouter, createWebHistory } from 'vue-router';
import { lastBrand, useSession } from './stores/session.ts';

// Views are loaded when they are first opened; the run sheet with its editor is by far the largest.
export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/sign-in', name: 'sign-in', component: () => import('./views/SignIn.vue') },
    { path: '/', redirect: () => `/${lastBrand() ?? 0}/today` },
    // Networks send people back without knowing our brands.
    { path: '/accounts', redirect: (to) => ({ path: `/${lastBrand() ?? 0}/accounts`, query: to.query }) },
    // Bookmarks and other programs send pages here without knowing our brands.
    { path: '/clip', redirect: (to) => ({ path: `/${lastBrand() ?? 0}/clip`, query: to.query }) },
    { path: '/:brand(\\d+)/clip', name: 'clip', component: () => import('./views/Clip.vue') },
    { path: '/:brand(\\d+)/today', name: 'today', component: () => import('./views/Today.vue') },
    { path: '/:brand(\\d+)/calendar', name: 'calendar', component: () => import('./views/Calendar.vue') },
    { path: '/:brand(\\d+)/desk', name: 'desk', component: () => import('./views/Desk.vue') },
    {
      path: '/:brand(\\d+)/desk/numbers',
      name: 'desk-numbers',
      component: () => import('./views/DeskNumbers.vue'),
    },
    { path: '/:brand(\\d+)/history', name: 'history', component: () => import('./views/History.vue') },
    { path: '/:brand(\\d+)/people', name: 'people', component: () => import('./views/People.vue') },
    { path: '/:brand(\\d+)/posts/new', name: 'new-post', component: () => import('./views/Post.vue') },
    { path: '/:brand(\\d+)/posts/:id(\\d+)', name: 'post', component: () => import('./views/Post.vue') },
    { path: '/:brand(\\d+)/workflows', name: 'workflows', component: () => import('./views/Workflows.vue') },
    { path: '/:brand(\\d+)/workflows/:id(\\d+)', name: 'run-sheet', component: () => import('./views/RunSheet.vue') },
    { path: '/:brand(\\d+)/sheets', name: 'sheets', component: () => import('./views/Sheets.vue') },
    { path: '/:brand(\\d+)/sheets/:id(\\d+)', name: 'sheet', component: () => import('./views/Sheet.vue') },
    { path: '/:brand(\\d+)/logbook', name: 'logbook', component: () => import('./views/Logbook.vue') },
    { path: '/:brand(\\d+)/accounts', name: 'accounts', component: () => import('./views/Accounts.vue') },
    { path: '/:rest(.*)', name: 'nowhere', component: () => import('./views/Nowhere.vue') },
  ],
});

const TITLES: Record<string, string> = {
  'sign-in': 'Sign in',
  today: 'Today',
  calendar: 'Calendar',
  desk: 'Desk',
  'desk-numbers': 'Numbers',
  people: 'People',
  'new-post': 'New post',
  post: 'Post',
  workflows: 'Workflows',
  logbook: 'Logbook',
  clip: 'Clip a page',
  sheets: 'Sheets',
  sheet: 'Sheet',
  accounts: 'Accounts',
  'run-sheet': 'Run sheet',
};
router.afterEach((to) => {
  const title = TITLES[String(to.name)];
  document.title = title ? `${title} · Playa` : 'Playa';
});

router.beforeEach(async (to) => {
  const session = useSession();
  await session.load();
  if (to.name === 'sign-in') return session.user ? '/' : true;
  if (!session.user) return { name: 'sign-in', query: { next: to.fullPath } };
  if ('brand' in to.params && !session.choose(Number(to.params.brand))) {
    const first = session.brands[0];
    // A brand that is not there, or none yet: the first one, at the same view when it has one.
    if (first)
      return to.name === 'run-sheet' || to.name === 'sheet' || to.name === 'post' || to.name === 'nowhere'
        ? `/${first.id}/today`
        : { path: to.path.replace(/^\/\d+/, `/${first.id}`), query: to.query };
  }
  return true;
});

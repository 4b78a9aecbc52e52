import { VueQueryPlugin } from '@tanstack/vue-query';
import { createPinia } from 'pinia';
import { createApp } from 'vue';
import App from './App.vue';
import { makeQueryClient } from './lib/query-client.ts';
import { router } from './router.ts';
import './style.css';

createApp(App).use(createPinia()).use(router).use(VueQueryPlugin, { queryClient: makeQueryClient() }).mount('#app');

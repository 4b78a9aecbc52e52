<template>
  <div class="grid h-full place-items-center">
    <p class="text-ink-2">There is nothing at this address. <RouterLink to="/" class="link">Go to Today</RouterLink></p>
  </div>
</template>

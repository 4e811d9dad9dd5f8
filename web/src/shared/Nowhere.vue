<template>
  <main id="stage" class="mx-auto max-w-xl px-5 py-16">
    <h1>There is no such page</h1>
    <p class="mt-2 text-soft">The rig may belong to another workspace, or the address is mistyped.</p>
    <RouterLink to="/" class="button button-next mt-6">Go to the Yard</RouterLink>
  </main>
</template>

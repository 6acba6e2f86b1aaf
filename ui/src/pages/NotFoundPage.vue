<template>
  <div class="p-8">
    <h1 class="mb-2 text-xl font-bold">There is no such page</h1>
    <p>
      The address may be mistyped, or what it named is gone.
      <RouterLink to="/worklist">Go to your worklist</RouterLink>.
    </p>
  </div>
</template>

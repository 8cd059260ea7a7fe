<template>
  <main class="page stack">
    <h1>There is nothing at this address</h1>
    <p>It may have been moved. <router-link to="/">All trials</router-link></p>
  </main>
</template>

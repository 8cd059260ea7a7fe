<script setup lang="ts">
/** A step as a block on a clock that runs down: its look tells what it needs, its words what it is. */
defineProps<{ label: string; look: string }>()
</script>

<template>
  <div class="block" :class="look">
    <span>{{ label }}</span>
    <slot />
  </div>
</template>

<style scoped>
.block {
  position: absolute;
  left: 8px;
  right: 8px;
  border-radius: 5px;
  padding: var(--gap-0) var(--gap-2);
  font-size: var(--type-2);
  line-height: 17px;
  overflow: hidden;
  z-index: 1;
}
.block > span {
  display: block;
  overflow: hidden;
}
@media (forced-colors: active) {
  .block {
    border: 1px solid CanvasText;
    forced-color-adjust: none;
  }
  .block.hatch {
    border-style: dotted;
  }
  .block.cook {
    background: Canvas;
    color: CanvasText;
    border-left: 8px solid var(--m);
  }
}
.hand > span {
  text-overflow: ellipsis;
  white-space: nowrap;
}
.hand {
  background: var(--hand);
  color: var(--flour);
  right: 14%;
  z-index: 3;
  font-size: var(--type-1);
  padding-left: var(--gap-2);
}
.hand.done {
  background: var(--hand-past);
}
/* A preheat beside what the food does: a lane of its own at the column's edge. */
.narrow {
  right: 34px;
}
.hand.narrow {
  right: 34px;
}
.beside {
  left: auto;
  right: 6px;
  width: 24px;
  padding: var(--gap-1) var(--gap-0);
  writing-mode: vertical-rl;
  font-size: var(--type-1);
  line-height: 19px;
}
.beside > span {
  white-space: nowrap;
  text-overflow: ellipsis;
}
.hatch {
  background: repeating-linear-gradient(135deg, var(--hatch-a) 0 7px, var(--hatch-b) 7px 14px);
  color: var(--ink);
}
.hatch.watched {
  background: repeating-linear-gradient(135deg, var(--hatch-dark-a) 0 7px, var(--hatch-dark-b) 7px 14px);
}
.hatch.done {
  opacity: 0.8;
}
.cook {
  background: var(--m);
  color: var(--white);
}
.cook.done {
  background: color-mix(in srgb, var(--m) 30%, var(--flour));
  color: var(--ink);
}
.rest {
  background: var(--paper);
  border: 1px dashed var(--line-strong);
  color: var(--ink-soft);
}
</style>

/** Which component draws the answer to a whole round. A new taste test adds a row here, if none fits. */
import type { Component } from 'vue'
import GroupsAnswer from './GroupsAnswer.vue'
import LabelsAnswer from './LabelsAnswer.vue'
import OneAnswer from './OneAnswer.vue'
import OrderAnswer from './OrderAnswer.vue'

export const DRAWN: Record<string, Component> = {
  one: OneAnswer,
  order: OrderAnswer,
  groups: GroupsAnswer,
  labels: LabelsAnswer,
}

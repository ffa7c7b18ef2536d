<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed } from 'vue'
import { type Plan, type PlanOutcome, type PlanWish, wishText } from '#web/award/planText.ts'
import { amountText } from '#web/shared/words.ts'

/** Wishes that no plan keeps together, in words, and what each of them stands in the way of. */
const props = defineProps<{ plan: Plan; outcome: PlanOutcome }>()
const emit = defineEmits<{ drop: [wishes: PlanWish[]] }>()
const clash = computed(() =>
  (props.outcome.conflict?.easing ?? []).flatMap(one => {
    const wish = props.plan.run!.wishes.find(other => other.id === one.wishId)
    return wish ? [{ ...one, wish, isStill: props.plan.wishes.some(other => other.id === one.wishId) }] : []
  }),
)
const drop = (id: string): void => emit('drop', props.plan.wishes.filter(one => one.id !== id)) // prettier-ignore
</script>

<template>
  <section class="conflict" data-test="plan-conflict">
    <h2>{{ clash.length === 1 ? 'One wish cannot be kept' : 'These wishes contradict each other' }}</h2>
    <p>
      {{ outcome.conflict?.proved ? 'No plan keeps' : 'No plan was found that keeps' }}
      {{ clash.length === 1 ? 'it' : 'them all together' }}; without any one of them there
      {{ clash.some(one => one.cost !== null) ? 'is one' : 'may be one' }}:
    </p>
    <ul>
      <li v-for="one in clash" :key="one.wishId">
        <b>{{ wishText(plan, one.wish) }}</b>
        <span class="quiet">{{ one.wish.must ? ', must' : ', wish' }}</span>:
        {{ one.cost === null ? 'alone this is not enough' : `without it ${plan.currency} ${amountText(one.cost)}` }}
        <ElButton
          v-if="plan.mayPlan && one.isStill && one.cost !== null"
          link
          :data-test="`ease-${one.wish.what.kind}`"
          @click="drop(one.wishId)"
          >leave it out</ElButton
        >
      </li>
    </ul>
  </section>
</template>

<style scoped>
.conflict {
  border-left: 3px solid var(--madder);
  padding: 2px 14px;
  margin: 10px 0 18px;
}
</style>

<script setup lang="ts">
import { ElButton } from 'element-plus'
import { ref } from 'vue'
import { type Plan, type PlanWish, wishSentence } from '#web/award/planText.ts'
import WishDialog from '#web/award/WishDialog.vue'
import { isZeroText } from '#core/money/text.ts'
import { amountText } from '#web/shared/words.ts'

/** What the team wishes, as sentences, and what each wish costs. */
const props = defineProps<{ plan: Plan; busy: boolean }>()
const emit = defineEmits<{ change: [wishes: PlanWish[]] }>()
const opened = ref<PlanWish | null>(null)
const priceOf = (id: string) => props.plan.run?.outcome?.prices.find(one => one.wishId === id)
function priceText(id: string): string {
  const price = priceOf(id)
  if (!price) return ''
  if (price.price === null) return price.kept ? '' : 'contradicts'
  return isZeroText(price.price) ? 'nothing' : `${props.plan.currency} ${amountText(price.price)}`
}
const strength = (wish: PlanWish): string =>
  wish.must
    ? 'must'
    : wish.worth === ''
      ? 'wish'
      : `wish, worth ${wish.worthIn === 'percent' ? `${wish.worth} %` : `${props.plan.currency} ${amountText(wish.worth)}`}`
const without = (id: string): void => emit('change', props.plan.wishes.filter(one => one.id !== id)) // prettier-ignore
function keep(wish: PlanWish): void {
  const known = props.plan.wishes.some(one => one.id === wish.id)
  emit('change', known ? props.plan.wishes.map(one => (one.id === wish.id ? wish : one)) : [...props.plan.wishes, wish])
  opened.value = null
}
const fresh = (): PlanWish => ({
  id: crypto.randomUUID(),
  must: true,
  worth: '',
  worthIn: 'amount',
  what: { kind: 'mostSuppliers', count: Math.max(1, Math.min(3, props.plan.suppliers.length)) },
})
</script>

<template>
  <section data-test="plan-wishes">
    <h3>Wishes, and what each costs</h3>
    <p v-if="!plan.wishes.length" class="quiet">
      Nothing is wished: the cheapest plan of all counts. Say how many suppliers you want, who keeps what, who must not
      be left alone with a line.
    </p>
    <div v-for="wish in plan.wishes" :key="wish.id" class="wish" :data-test="`wish-${wish.what.kind}`">
      <p class="both">
        <span
          >{{ wishSentence(plan, wish).lead }}
          <ElButton
            link
            class="part"
            :disabled="!plan.mayPlan"
            :data-test="`change-${wish.what.kind}`"
            @click="opened = wish"
            >{{ wishSentence(plan, wish).part }}</ElButton
          ></span
        ><span
          class="num"
          :class="{ 'tone-stop': priceText(wish.id) === 'contradicts', quiet: priceText(wish.id) === 'nothing' }"
          >{{ priceText(wish.id) }}</span
        >
      </p>
      <p class="both under">
        <span class="quiet"
          >{{ strength(wish)
          }}<b v-if="priceOf(wish.id)?.kept === false" class="tone-attention"
            >, dropped: it costs more than it is worth</b
          ></span
        ><ElButton
          v-if="plan.mayPlan"
          link
          size="small"
          :disabled="busy"
          :data-test="`without-${wish.what.kind}`"
          @click="without(wish.id)"
          >try without</ElButton
        >
      </p>
    </div>
    <p v-if="plan.mayPlan">
      <ElButton link :disabled="busy" data-test="add-wish" @click="opened = fresh()">Add a wish</ElButton>
    </p>
    <WishDialog v-if="opened" :plan="plan" :wish="opened" @close="opened = null" @keep="keep" />
  </section>
</template>

<style scoped>
.wish {
  border-bottom: 1px solid var(--rule-light);
  padding: 6px 0;
}
.both {
  display: flex;
  justify-content: space-between;
  gap: 12px;
  margin: 0;
}
.both .num {
  white-space: nowrap;
}
.part.el-button {
  flex: initial;
  text-decoration: underline dotted;
  text-underline-offset: 3px;
  font-weight: 600;
  color: inherit;
  vertical-align: baseline;
  white-space: normal;
  text-align: left;
}
.both .el-button {
  flex: none;
}
.under {
  font-size: 12px;
}
</style>

<script setup lang="ts">
import { ElButton, ElOption, ElSelect } from 'element-plus'
import { onMounted, ref } from 'vue'
import { useRouter } from 'vue-router'
import KeepAsListDialog from '#web/request/KeepAsListDialog.vue'
import { useBasket } from '#web/request/basket.ts'
import NumberField from '#web/shared/NumberField.vue'
import ReasonList from '#web/shared/ReasonList.vue'
import { useAction } from '#web/shared/useAction.ts'
import { amountText, unit } from '#web/shared/words.ts'

/** Items gathered before a request is made: quantities and units are changed in place. */
const router = useRouter()
const basket = useBasket()
const { busy, reasons, run } = useAction()
const keeping = ref(false)
onMounted(() => void basket.load())
const put = (line: (typeof basket.lines)[number], part: { quantity?: string; unit?: string }): void =>
  void basket.put({ itemId: line.itemId, offerId: line.offerId, quantity: line.quantity, unit: line.unit, ...part })
async function ask(): Promise<void> {
  const id = await run(() => basket.request())
  if (id) await router.push(`/request/${id}`)
}
</script>

<template>
  <aside class="basket" aria-label="Basket">
    <h2>Basket</h2>
    <p v-if="basket.lines.length === 0" class="quiet">
      Empty. What you put in is kept, also when you sign out.
      <RouterLink to="/request/lists">Repeat lists</RouterLink> fill it at once.
    </p>
    <div v-for="line in basket.lines" :key="line.offerId" class="basket-line">
      <p>
        <b>{{ line.name }}</b><br /><span class="quiet">{{ line.supplier }}</span>
      </p>
      <p class="bar">
        <NumberField
          :model-value="line.quantity"
          :label="`Quantity of ${line.name}`"
          width="74px"
          @update:model-value="Number($event) > 0 && put(line, { quantity: $event })"
        /><ElSelect
          v-if="line.units.length > 1"
          :model-value="line.unit"
          size="small"
          style="width: 70px"
          :aria-label="`Unit of ${line.name}`"
          @update:model-value="put(line, { unit: $event })"
          ><ElOption v-for="code in line.units" :key="code" :value="code" :label="unit(code)" /></ElSelect
        ><span v-else class="unit">{{ unit(line.unit) }}</span
        ><span class="sum"
          >{{ amountText(line.amount) }} <span class="unit">{{ line.currency }}</span></span
        >
      </p>
      <ElButton link @click="basket.takeOut(line.offerId)">take out</ElButton>
    </div>
    <ReasonList :reasons="[...basket.reasons, ...reasons]" />
    <template v-if="basket.lines.length"
      ><ElButton type="primary" :disabled="busy" data-primary data-test="request-basket" @click="ask"
        >Make a request of it<kbd class="hint">Ctrl ↵</kbd></ElButton
      >
      <p class="more">
        <ElButton link data-test="basket-to-list" @click="keeping = true"> keep as a repeat list </ElButton>
      </p></template
    >
    <KeepAsListDialog v-if="keeping" from="basket" name="" @close="keeping = false" />
  </aside>
</template>

<style scoped>
.basket {
  padding: 18px;
  overflow: auto;
  background: var(--sheet);
  border-left: 1px solid var(--rule);
}
.basket-line {
  border-top: 1px solid var(--rule-light);
  padding: 8px 0;
}
.sum {
  margin-left: auto;
  font-weight: 600;
}
.hint {
  margin-left: 8px;
  border: 0;
}
.more {
  margin-top: 8px;
}
h2 {
  margin-bottom: 8px;
}
</style>

<script setup lang="ts">
import { ElButton } from 'element-plus'
import { useRoute } from 'vue-router'
import type { FoundItem } from '#contract/request/catalogue.ts'
import { pictureSource } from '#web/request/itemPicture.ts'
import { priceText, unit } from '#web/shared/words.ts'

/** One item that was found: what it is and what the best offer asks. */
defineProps<{ item: FoundItem; compared: boolean }>()
const emit = defineEmits<{ compare: [] }>()
const route = useRoute()
</script>

<template>
  <li>
    <RouterLink
      :to="{ path: `/request/catalogue/${item.id}`, query: route.query }"
      :class="{ on: route.params.id === item.id, gone: item.discontinued }"
      :data-test="`item-${item.number}`"
    >
      <img v-if="item.picture" :src="pictureSource(item.picture)" alt="" width="54" height="54" loading="lazy" /><span
        v-else
        class="no-picture"
      />
      <span class="text"
        ><b>{{ item.name }}</b
        ><span class="quiet"
          >{{ item.number }}, {{ item.category }}<template v-if="item.stocked">, stocked</template
          ><template v-if="item.certified">, certified</template></span
        ><span v-if="item.discontinued" class="tone-attention"
          >discontinued{{ item.replacedBy ? `; replaced by ${item.replacedBy}` : '' }}</span
        ></span
      >
      <span class="price"
        ><template v-if="item.bestPrice"
          ><b
            ><small class="unit">{{ item.currency }}</small> {{ priceText(item.bestPrice) }}</b
          ><span class="quiet"
            >per {{ item.priceBase === '1' ? '' : item.priceBase }} {{ unit(item.unit)
            }}<template v-if="item.offers > 1">, {{ item.offers }} offers</template></span
          ><span v-if="item.agreement" class="tone-settled agreed">agreement {{ item.agreement }}</span></template
        ><span v-else class="quiet">no offer</span></span
      ></RouterLink
    >
    <ElButton
      link
      class="compare"
      :aria-pressed="compared"
      :data-test="`compare-${item.number}`"
      @click="emit('compare')"
      >{{ compared ? 'compared' : 'compare' }}</ElButton
    >
  </li>
</template>

<style scoped>
li {
  border-top: 1px solid var(--rule-light);
  position: relative;
}
li > a {
  display: grid;
  grid-template-columns: 60px 1fr auto;
  gap: 12px;
  align-items: center;
  padding: 6px 8px 6px 0;
  color: inherit;
  text-decoration: none;
}
li > a:hover {
  background: #fbf7ee;
}
li > a.on {
  background: var(--sheet);
  box-shadow: inset 3px 0 0 var(--tide);
  padding-left: 8px;
}
li > a.gone b {
  color: var(--ink-quiet);
}
img {
  object-fit: contain;
}
.no-picture {
  width: 54px;
  height: 54px;
  border: 1px dashed var(--rule);
}
.text {
  display: flex;
  flex-direction: column;
  min-width: 0;
}
.price {
  display: flex;
  flex-direction: column;
  text-align: right;
  padding-bottom: 16px;
}
.agreed {
  font-size: 11.5px;
}
.compare {
  position: absolute;
  right: 8px;
  bottom: 2px;
  font-size: 11.5px;
  min-height: 24px;
  min-width: 50px;
  justify-content: flex-end;
}
.compare[aria-pressed='true'] {
  font-weight: 700;
}
</style>

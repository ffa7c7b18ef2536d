<script setup lang="ts">
import { ElButton, ElTree } from 'element-plus'
import 'element-plus/theme-chalk/el-tree.css'
import { computed } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ListCategories } from '#contract/source/onboarding.ts'
import { asBranches, type Branch, whyNotHang } from '#core/source/categories.ts'
import { laterLabel } from '#web/shared/laterWords.ts'

/** Categories as they hang under each other. One is dragged onto another to hang under it, or between others to stand beside them. */
type Category = ResponseOf<typeof ListCategories>['categories'][number]
type Place = 'before' | 'after' | 'inner'
interface Twig {
  readonly name: string
  readonly one: Category
  readonly children: Twig[]
}
interface Held {
  readonly data: unknown
}
const props = defineProps<{ categories: readonly Category[]; keeping: boolean }>()
const emit = defineEmits<{ edit: [one: Category]; hang: [one: Category, parent: string | null] }>()
const twig = ({ one, children }: Branch<Category>): Twig => ({ name: one.name, one, children: children.map(twig) })
const tree = computed(() => asBranches(props.categories).map(twig))

const under = (to: Category, place: Place): string | null => (place === 'inner' ? to.name : (to.parent ?? null))
const twigOf = (node: Held): Twig => node.data as Twig
const takes = (moved: Held, to: Held, place: 'prev' | 'inner' | 'next'): boolean => {
  const parent = under(twigOf(to).one, place === 'inner' ? 'inner' : 'before')
  return whyNotHang(twigOf(moved).name, parent, props.categories).length === 0
}
function dropped(moved: Held, to: Held, place: string): void {
  const { one } = twigOf(moved)
  const parent = under(twigOf(to).one, place as Place)
  if (parent !== (one.parent ?? null)) emit('hang', one, parent)
}
const asked = (one: Category): string =>
  [
    ...one.certificates.map(rule => `${rule.kind} ${laterLabel('lapse', rule.lapse)}`),
    ...Object.entries(one.thresholds).map(([key, value]) => `${laterLabel('signal', key)} ${value}`),
  ].join(', ')
</script>

<template>
  <ElTree
    :data="tree"
    node-key="name"
    default-expand-all
    :expand-on-click-node="false"
    :draggable="keeping"
    :allow-drop="takes"
    :indent="18"
    class="categories"
    data-test="categories"
    @node-drop="dropped"
  >
    <template #default="{ data }"
      ><span class="category" :data-test="`branch-${(data as Twig).name}`"
        ><b>{{ (data as Twig).name }}</b
        ><span class="quiet"
          >{{ (data as Twig).one.owner ?? 'nobody decides'
          }}{{ (data as Twig).one.needsFinance ? ', and finance' : '' }}</span
        ><span class="quiet wide">{{ asked((data as Twig).one) }}</span
        ><span class="num"
          >{{ (data as Twig).one.suppliers }} {{ (data as Twig).one.suppliers === 1 ? 'supplier' : 'suppliers' }}</span
        ><ElButton
          v-if="keeping"
          link
          type="primary"
          :data-test="`category-${(data as Twig).name}`"
          @click.stop="emit('edit', (data as Twig).one)"
          >change</ElButton
        ></span
      ></template
    >
  </ElTree>
</template>

<style scoped>
.categories {
  margin-top: 12px;
  background: none;
}
.categories :deep(.el-tree-node__content) {
  border-bottom: 1px solid var(--rule-light);
  height: auto;
  min-height: 34px;
}
.category {
  flex: 1;
  min-width: 0;
  display: grid;
  grid-template-columns: minmax(140px, 1.1fr) minmax(120px, 1fr) minmax(0, 1.6fr) 90px 60px;
  gap: 12px;
  align-items: center;
  padding-right: 8px;
  white-space: normal;
}
.category .el-button {
  min-width: 24px;
  min-height: 24px;
}
.num {
  text-align: right;
}
@media (max-width: 700px) {
  .category {
    grid-template-columns: 1fr auto;
    gap: 0 12px;
    padding: 6px 8px 6px 0;
  }
  .wide {
    display: none;
  }
}
</style>

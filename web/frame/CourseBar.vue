<script setup lang="ts">
import { ElButton } from 'element-plus'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { riverGeometry } from '#web/charts/riverGeometry.ts'
import FindOrDo from '#web/frame/FindOrDo.vue'
import HouseMark from '#web/frame/HouseMark.vue'
import { ALL_STAGES, STAGES } from '#web/frame/stages.ts'
import { connected } from '#web/news/news.ts'
import { useSession } from '#web/people/session.ts'
import { amountText, label } from '#web/shared/words.ts'

const session = useSession()
const route = useRoute()
const menu = ref(false)
const WIDTH = 594
const now = computed(() => route.path.split('/')[1] ?? '')
const figures = computed(() => new Map(session.counts?.stages.map(stage => [stage.stage, stage]) ?? []))
const river = computed(() =>
  riverGeometry(
    STAGES.map(stage => Number(figures.value.get(stage.key)?.open ?? 0)),
    { width: WIDTH, height: 18 },
  ),
)
const waiting = (stage: string): number => figures.value.get(stage)?.waiting ?? 0
const open = (stage: string): string =>
  `${label('stage', stage)}: ${waiting(stage)} wait for you, ${session.base} ${amountText(figures.value.get(stage)?.open ?? '0')} open in this stage`
const short = computed(() => {
  const [first = '', ...rest] = (session.person?.name ?? '').split(' ')
  return `${first} ${rest.at(-1)?.[0] ?? ''}.`
})
</script>

<template>
  <header class="course">
    <RouterLink to="/desk" class="mark"><HouseMark :height="24" />Ivory Order</RouterLink>
    <RouterLink to="/desk" class="desk" :class="{ on: now === 'desk' }"
      >Desk <b v-if="session.counts">{{ session.counts.desk }}</b></RouterLink
    >
    <nav class="river" aria-label="Stages">
      <svg :viewBox="`0 0 ${WIDTH} 18`" aria-hidden="true" preserveAspectRatio="none"><path :d="river.path" /></svg>
      <RouterLink
        v-for="stage in STAGES"
        :key="stage.key"
        :to="stage.path"
        :class="{ on: now === stage.key }"
        :title="open(stage.key)"
      >
        {{ label('stage', stage.key) }}<i v-if="waiting(stage.key)">{{ waiting(stage.key) }}</i>
      </RouterLink>
    </nav>
    <div class="right">
      <RouterLink
        v-for="stage in ALL_STAGES.filter(one => one.side && (!one.right || session.may(one.right)))"
        :key="stage.key"
        :to="stage.path"
        :class="{ on: now === stage.key }"
        >{{ label('stage', stage.key) }}</RouterLink
      >
      <FindOrDo />
      <div class="person">
        <ElButton link :aria-expanded="menu" data-test="person" @click="menu = !menu">
          {{ short }}
        </ElButton>
        <div v-if="menu" class="menu" @click="menu = false">
          <p>
            {{ session.person?.name }}<br /><span class="quiet">{{ session.person?.email }}</span>
          </p>
          <RouterLink to="/account" data-test="account">Your account</RouterLink>
          <RouterLink v-if="session.demo" to="/mailbox">Mailbox of the demo</RouterLink>
          <ElButton link data-test="sign-out" @click="session.signOut()">
            Sign out{{ session.demo ? ', be somebody else' : '' }}
          </ElButton>
        </div>
      </div>
    </div>
    <p v-if="!connected" class="offline" role="status">No connection. What you type is kept; it goes on by itself.</p>
  </header>
</template>

<style scoped>
.course {
  position: relative;
  height: 54px;
  display: flex;
  align-items: stretch;
  background: var(--ink);
  color: var(--ink-light);
  flex: none;
}
.course a {
  color: #d9d2c3;
  text-decoration: none;
}
.mark {
  display: flex;
  align-items: center;
  gap: 9px;
  padding: 0 16px;
  font: 600 16px var(--serif);
  color: #fffdf7 !important;
  white-space: nowrap;
}
.desk {
  display: flex;
  align-items: center;
  gap: 7px;
  padding: 0 16px;
  border-left: 1px solid #36404e;
  border-right: 1px solid #36404e;
  font-weight: 600;
}
.desk b,
.river i {
  color: var(--brass-bright);
  font-weight: 600;
  font-style: normal;
}
.course a.on {
  color: #fffdf7;
  font-weight: 700;
}
.river {
  position: relative;
  flex: 1 1 594px;
  max-width: 660px;
  display: grid;
  grid-template-columns: repeat(7, 1fr);
}
.river svg {
  position: absolute;
  left: 0;
  bottom: 4px;
  width: 100%;
  height: 18px;
}
.river path {
  fill: var(--tide-deep);
}
.river a {
  padding: 8px 0 0 12px;
  font-weight: 500;
  white-space: nowrap;
  z-index: 1;
}
.river a.on {
  box-shadow: inset 0 -3px var(--tide-mid);
}
.river i {
  margin-left: 5px;
  font-size: 12px;
}
.right {
  margin-left: auto;
  display: flex;
  align-items: center;
  gap: 14px;
  padding-right: 14px;
}
.person {
  position: relative;
}
.person > button {
  color: var(--ink-light);
  font-weight: 600;
  font-size: 12px;
  white-space: nowrap;
}
.menu {
  position: absolute;
  right: 0;
  top: 30px;
  background: var(--sheet);
  color: var(--ink);
  border: 1px solid var(--rule);
  padding: 12px 14px;
  z-index: 20;
  width: 240px;
  display: flex;
  flex-direction: column;
  gap: 8px;
  box-shadow: 0 4px 16px rgb(27 36 49 / 20%);
}
.menu a {
  color: var(--tide) !important;
}
.offline {
  position: absolute;
  top: 54px;
  left: 50%;
  transform: translateX(-50%);
  background: var(--brass);
  color: white;
  padding: 4px 14px;
  z-index: 30;
}
@media (max-width: 700px) {
  .course {
    height: auto;
    flex-wrap: wrap;
  }
  .mark {
    padding: 10px 12px;
  }
  .desk {
    border: 0;
    margin-left: auto;
  }
  /* the stages lie where a thumb reaches them */
  .river {
    position: fixed;
    bottom: 0;
    left: 0;
    right: 0;
    z-index: 25;
    height: var(--thumb-strip);
    overflow-x: auto;
    display: flex;
    max-width: none;
    background: var(--ink);
    padding-bottom: env(safe-area-inset-bottom);
  }
  .river svg {
    display: none;
  }
  .river a {
    display: flex;
    align-items: center;
    padding: 0 13px;
  }
  .river a.on {
    box-shadow: inset 0 3px var(--tide-mid);
  }
  .right > a {
    display: none;
  }
  .right {
    gap: 10px;
  }
}
</style>

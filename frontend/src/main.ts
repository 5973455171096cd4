import { VueQueryPlugin } from '@tanstack/vue-query'
import { createApp } from 'vue'
import App from './App.vue'
import { onSignedOut, queryClient } from './api/client'
import { notAllowed, signedOut } from './kit/here'
import { keepSending } from './kit/log/queue'
import { keepShell } from './kit/shell'
import { router } from './router'
import './style.css'

createApp(App).use(router).use(VueQueryPlugin, { queryClient }).mount('#app')
onSignedOut(signedOut, notAllowed)
keepSending()
void keepShell()

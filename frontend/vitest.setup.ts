import { i18n } from '@lingui/core'

// In tests sentences stand in the code itself.
i18n.loadAndActivate({ locale: 'en', messages: {} })

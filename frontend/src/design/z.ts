import { z } from 'zod'

// The pages may not make functions out of text (their content security policy), and need not.
z.config({ jitless: true })

export { z }

import { queryOptions, useMutation, useQueryClient } from '@tanstack/react-query'
import { api, unwrap, type Customer, type CustomerFields } from '@/api/client'

export const customersQuery = queryOptions({
  queryKey: ['customers'],
  queryFn: () => unwrap(api.GET('/api/customers')),
})

export const NOBODY: CustomerFields = { name: '', telephone: '', email: '', address: '', note: '' }

/** What is typed of a customer, without what follows from elsewhere. */
export function fieldsOf({ name, telephone, email, address, note }: Customer): CustomerFields {
  return { name, telephone, email, address, note }
}

export function useKeepCustomer() {
  const queryClient = useQueryClient()
  return useMutation({
    mutationFn: ({
      id,
      ...body
    }: {
      id: string
      customer: CustomerFields
      was: CustomerFields | null
    }) =>
      unwrap(
        api.PUT('/api/customers/{customer_id}', { params: { path: { customer_id: id } }, body }),
      ),
    onSuccess: (all) => {
      queryClient.setQueryData(customersQuery.queryKey, all)
      void queryClient.invalidateQueries({ queryKey: ['engines'] })
    },
  })
}

export function useForgetCustomer() {
  const queryClient = useQueryClient()
  return useMutation({
    mutationFn: (id: string) =>
      unwrap(api.DELETE('/api/customers/{customer_id}', { params: { path: { customer_id: id } } })),
    onSuccess: (all) => queryClient.setQueryData(customersQuery.queryKey, all),
  })
}

import { Workbench } from '../features/make/begin/workbench.tsx'
import { usePhoneDialog } from '../features/phone/use-phone-dialog.tsx'

export function MakeRoute() {
  const phone = usePhoneDialog()
  return (
    <>
      <Workbench onPhone={phone.open} />
      {phone.dialog}
    </>
  )
}

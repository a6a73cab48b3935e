// Who held, where one pair of hands is not enough.
import { TextField } from '../../parts/field/Field'

export function HelpedBy() {
  return (
    <TextField
      station="rebuild"
      path="/rebuild"
      label="Second person"
      place="helper"
      field="helper"
      limit={120}
      read={(visit) => visit.rebuild.helper}
    />
  )
}

/** Files that the browser saves. */
import { deliveryAddress, type Delivery } from '../api/client';

/** Has the browser save a file that was delivered. */
export function save(made: Delivery): void {
  const link = document.createElement('a');
  link.href = deliveryAddress(made.id);
  link.download = made.file_name;
  link.click();
}

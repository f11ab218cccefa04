import type { Role } from '../api/client';

export const ROLES: Record<Role, string> = {
  technician: 'technician',
  supervisor: 'supervisor',
  engineer: 'engineer',
  administrator: 'administrator',
  device: 'device',
};

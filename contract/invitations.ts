import type { ClassRole } from './classes';

/** Somebody is asked to join a class or a department. */
export interface Invitation {
  id: string;
  what: 'class' | 'department';
  /** Of the class or department. */
  name: string;
  role: ClassRole;
  madeBy: string;
  madeAt: string;
}

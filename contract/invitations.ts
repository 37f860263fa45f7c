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

/** Somebody who was asked to join, and has not said anything yet. */
export interface Asked {
  id: string;
  /** As it was typed: nothing else is known of somebody who has not said yes. */
  signInName: string;
  role: ClassRole;
  madeAt: string;
}

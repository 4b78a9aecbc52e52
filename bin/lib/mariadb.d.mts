export interface Mariadb {
  port: number;
  ended: Promise<void>;
  url(database: string): string;
  stop(signal?: NodeJS.Signals): Promise<void>;
}
export function startMariadb(options: {
  folder: string;
  password: string;
  quick?: boolean;
  port?: number;
}): Promise<Mariadb>;

declare module "*.md" {
  const sections: { id: string; title: string; html: string }[];
  export default sections;
}

/** How the fields beside a part are set out. */
export const partFields = `
  section > h2 {
    display: flex;
    justify-content: space-between;
    align-items: baseline;
    margin-bottom: 4px;
  }
  .fields {
    display: grid;
    grid-template-columns: repeat(2, minmax(0, 1fr));
    gap: 2px 12px;
  }
  p-select {
    width: 100%;
    min-width: 0;
  }
  .field {
    display: grid;
    align-content: start;
    min-width: 0;
  }
  .name {
    font-size: 12.5px;
    color: var(--ink-soft);
  }
`;

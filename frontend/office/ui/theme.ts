import type { ThemeConfig } from 'antd';

/** Ant Design in Skavo's look: the tokens of shared/tokens.css. */
export const theme: ThemeConfig = {
  token: {
    colorPrimary: '#1F5540',
    colorInfo: '#2F6F8F',
    colorWarning: '#D9941E',
    colorError: '#A8402F',
    colorSuccess: '#1F5540',
    colorText: '#1E2B26',
    colorTextSecondary: '#55635C',
    colorTextDescription: '#55635C',
    colorTextPlaceholder: '#6B7770',
    colorBgLayout: '#FAF8F3',
    colorBgContainer: '#FFFFFF',
    colorBorder: '#CFC8B8',
    colorBorderSecondary: '#E4DFD3',
    colorLink: '#1F5540',
    borderRadius: 4,
    borderRadiusLG: 6,
    fontFamily: "'IBM Plex Sans', 'IBM Plex Sans Arabic', sans-serif",
    fontFamilyCode: "'IBM Plex Mono', monospace",
    fontSize: 13,
    controlHeight: 30,
    controlItemBgActive: '#E7EFEA',
    controlItemBgHover: '#F3F7F4',
    // What opens is there at once, and takes the next key.
    motion: false,
  },
  components: {
    Table: {
      cellPaddingBlockSM: 5,
      cellPaddingInlineSM: 8,
      cellFontSizeSM: 13,
      headerBg: '#FCFBF8',
      headerColor: '#55635C',
      rowHoverBg: '#F3F7F4',
      headerSplitColor: 'transparent',
    },
    Tabs: { horizontalItemPadding: '9px 0', horizontalItemGutter: 18, titleFontSize: 13 },
    Form: { itemMarginBottom: 12, verticalLabelPadding: '0 0 2px' },
    Button: { fontWeight: 500, primaryShadow: 'none', defaultShadow: 'none', dangerShadow: 'none' },
  },
};

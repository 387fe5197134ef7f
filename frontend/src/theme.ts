// Naive UI in the ledger's colours; the same values stand in style.css as variables.
import type { GlobalThemeOverrides } from 'naive-ui'

const ink = '#23211D'
const main = '#1D6670'

export const theme: GlobalThemeOverrides = {
  common: {
    primaryColor: main,
    primaryColorHover: '#257985',
    primaryColorPressed: '#154E56',
    primaryColorSuppl: main,
    errorColor: '#A33B2C',
    warningColor: '#B86F24',
    successColor: '#4B7740',
    textColorBase: ink,
    textColor1: ink,
    textColor2: ink,
    textColor3: '#6A645A',
    textColorDisabled: '#6A645A', // what can only be read is read all the same
    inputColorDisabled: '#FAF7F1',
    placeholderColor: '#756F64',
    borderColor: '#E3DCCF',
    dividerColor: '#E3DCCF',
    bodyColor: '#FAF7F1',
    borderRadius: '2px',
    borderRadiusSmall: '2px',
    fontFamily: "'IBM Plex Sans', sans-serif",
    fontFamilyMono: "'IBM Plex Mono', monospace",
    fontSize: '13px',
    fontSizeMedium: '13px',
    fontSizeSmall: '13px',
    heightMedium: '30px',
    heightSmall: '26px',
  },
  Button: { textColorText: '#6A645A', textColorTextHover: main, textColorTextFocus: main },
  DataTable: {
    thPaddingSmall: '5px 12px',
    tdPaddingSmall: '3px 12px',
    thColor: '#FFFFFF',
    thColorHover: '#FFFFFF',
    tdColorHover: '#F8EBDD',
    thTextColor: '#6A645A',
    thFontWeight: '500',
    borderColor: '#E3DCCF',
    fontSizeSmall: '13px',
  },
  Tabs: { tabFontSizeSmall: '13px', tabTextColorLine: '#6A645A', tabPaddingSmallLine: '8px 0' },
  Empty: { textColor: '#6A645A' },
  Alert: {
    color: '#FFFFFF',
    border: '1px solid #E3DCCF',
    colorWarning: '#FBF3E8',
    borderWarning: '1px solid #E0C39D',
    padding: '10px 14px',
  },
}

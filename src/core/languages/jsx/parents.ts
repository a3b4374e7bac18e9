/** Components of packages that look at their children one by one: their types, their props, or by cloning them. */

/** Whatever package they come from. */
const READ = new RegExp(
  `^(?:${[
    // Routing and navigation.
    'Routes|Switch|Router\\.Switch|\\w+\\.(?:Navigator|Group)|\\w*Navigator',
    // Choices, and what is in them.
    'Tabs|TabList|TabPanels|Tab\\.List|Select|Picker|Dropdown|Menu|MenuList|SubMenu|Menu\\.SubMenu|Select\\.OptGroup|\\w*ToggleButtonGroup|RadioButtonGroup|RadioGroup|ButtonGroup|ToggleGroup|SegmentedControl|ContentSwitcher|TileGroup',
    // Steps, lists, columns.
    'Stepper|Steps|Timeline|ProgressIndicator|Breadcrumbs?|AvatarGroup|Avatar\\.Group|Space|Descriptions|Collapse|Accordion|Datagrid|Table\\.ColumnGroup|TabbedForm|TabbedShowLayout|SimpleShowLayout|BottomNavigation|SpeedDial|ImageList|GridList',
    // Sliders.
    'Carousel|Slider|Swiper|ViewPager|PagerView|Slick',
    // What wraps one child and clones it.
    'Tooltip|Popover|Popconfirm|Popper|OverlayTrigger|Whisper|HoverCard|Slot|Fade|Grow|Slide|Zoom|ClickAwayListener|TrapFocus|Form\\.Item|Dropdown\\.Toggle|Touchable\\w+Feedback',
    'TransitionGroup|CSSTransition|SwitchTransition|Transition|AnimatePresence|ReplaceTransition',
    // Drawings of data, heads of documents, texts to translate.
    '\\w*Chart|VictoryGroup|VictoryStack|Helmet|Head|Trans|Translate|FormattedMessage',
  ].join('|')})$`,
);

export function readsItsChildren(tag: string): boolean {
  return READ.test(tag);
}

<template>
  <AskBox />
  <NoticeList />
</template>
